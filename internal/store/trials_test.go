package store_test

import (
	"path/filepath"
	"reflect"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/trial"
	"patientfox/internal/store"
)

// Rules read the same of a trial here as on the device: what a pack carries of it is read back, whichever columns are loaded.
func TestWhatRulesReadOfATrialIsReadBack(t *testing.T) {
	s := open(t, filepath.Join(t.TempDir(), "practice.db"))
	var all trial.Trial
	fill(reflect.ValueOf(&all).Elem())
	all.Waits = false
	want := all.Brief()
	want.Cold = false // that follows from the day's sessions
	require.NoError(t, s.Write(ctx, func(q store.Q) error {
		if err := q.EnsureSession(ctx, want.Session); err != nil {
			return err
		}
		return q.Replace(ctx, store.Derived{
			Session: store.Session{ID: want.Session, Opened: 1, Day: want.Day, Place: want.Place, Tags: "[]"},
			Blocks:  []store.Block{{ID: want.Block, Session: want.Session, Plan: "plan"}},
			Trials:  []store.Trial{{Trial: all, Plan: "plan"}},
		})
	}))
	for _, read := range []func() ([]store.Trial, error){
		func() ([]store.Trial, error) { return s.Read().TrialsOfPlans(ctx, []string{"plan"}) },
		func() ([]store.Trial, error) { return s.Read().RecentTrials(ctx, []string{"plan"}, 1) },
		func() ([]store.Trial, error) { return s.Read().TrialsTogether(ctx, []string{"plan"}) },
		func() ([]store.Trial, error) { return s.Read().TrialsInFull(ctx, "plan") },
	} {
		trials, err := read()
		require.NoError(t, err)
		require.Len(t, trials, 1)
		require.Equal(t, want, trials[0].Brief())
	}
}

// fill gives every field that a pack can carry of a trial a value.
func fill(v reflect.Value) {
	for i := range v.NumField() {
		switch f := v.Field(i); f.Kind() {
		case reflect.String:
			f.SetString("x")
		case reflect.Bool:
			f.SetBool(true)
		case reflect.Int:
			f.SetInt(3)
		case reflect.Pointer:
			f.Set(reflect.New(f.Type().Elem()))
		case reflect.Struct:
			fill(f)
		}
	}
}
