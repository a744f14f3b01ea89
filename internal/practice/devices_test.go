package practice_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/field"
	"patientfox/core/record"
	"patientfox/internal/practice"
	"patientfox/internal/practicetest"
)

// A code lets one device in, once and within ten minutes; however it is written down.
func TestACodeLetsOneDeviceInOnce(t *testing.T) {
	o := practicetest.Empty(t)
	v, err := o.Devices(ctx)
	require.NoError(t, err)
	me := v.People[0].ID
	_, err = o.Pair(ctx, practice.Typed{"person": "nobody"})
	invalid(t, err, "pair_person")
	code, err := o.Pair(ctx, practice.Typed{"person": me})
	require.NoError(t, err)
	typed := strings.ToLower(code[:4] + "-" + code[4:8] + " " + code[8:])
	who, err := o.Paired(ctx, typed)
	require.NoError(t, err)
	require.Equal(t, me, who.ID)
	cookie, err := o.TakeCode(ctx, typed, "  ")
	require.NoError(t, err)
	_, err = o.TakeCode(ctx, code, "a second one")
	require.ErrorIs(t, err, practice.ErrNotFound)
	person, err := o.SignedIn(ctx, cookie)
	require.NoError(t, err)
	require.Equal(t, me, person)
	for _, wrong := range []string{"", "x", cookie + "x", code} {
		person, err := o.SignedIn(ctx, wrong)
		require.NoError(t, err)
		require.Empty(t, person, wrong)
	}
	v, err = o.Devices(ctx)
	require.NoError(t, err)
	require.Equal(t, "A device", v.Devices[0].Name)
	require.NoError(t, o.SignOut(ctx, v.Devices[0].ID))
	require.ErrorIs(t, o.SignOut(ctx, v.Devices[0].ID), practice.ErrNotFound)
	person, err = o.SignedIn(ctx, cookie)
	require.NoError(t, err)
	require.Empty(t, person, "put out")

	late, err := o.Pair(ctx, practice.Typed{"person": me})
	require.NoError(t, err)
	o.Clock.Add(11 * time.Minute)
	_, err = o.TakeCode(ctx, late, "")
	require.ErrorIs(t, err, practice.ErrNotFound)
}

func TestPasswordsAreLongAndKeptAsHashes(t *testing.T) {
	o := practicetest.Empty(t)
	v, err := o.Devices(ctx)
	require.NoError(t, err)
	me := v.People[0].ID
	invalid(t, o.SetPassword(ctx, practice.Typed{"person": me, "password": "short", "again": "short"}), "password")
	invalid(t, o.SetPassword(ctx, practice.Typed{"person": me, "password": strings.Repeat("é", 40), "again": strings.Repeat("é", 40)}), "password")
	invalid(t, o.SetPassword(ctx, practice.Typed{"person": "", "password": "kelp and rope", "again": "kelp and rape"}), "again", "person")
	_, err = o.SignIn(ctx, practice.Typed{"person": me, "password": "kelp and rope"})
	invalid(t, err, "password")
	require.NoError(t, o.SetPassword(ctx, practice.Typed{"person": me, "password": "kelp and rope", "again": "kelp and rope"}))
	_, err = o.SignIn(ctx, practice.Typed{"person": me, "password": "Kelp and rope"})
	invalid(t, err, "password")
	cookie, err := o.SignIn(ctx, practice.Typed{"person": me, "password": "kelp and rope", "device": strings.Repeat("🦊", 90)})
	require.NoError(t, err)
	require.Len(t, cookie, 43)
	hash, err := o.Store.Read().Login(ctx, me)
	require.NoError(t, err)
	require.NotContains(t, hash, "kelp")
}

// The day's field pack holds what Today shows; what was put away is not in it, nor a session that was begun.
func TestTheFieldPackIsTheDay(t *testing.T) {
	o := practicetest.Demo(t)
	f, err := o.Field(ctx)
	require.NoError(t, err)
	require.Equal(t, "2026-11-23", f.Day)
	require.NotEmpty(t, f.Sheets)
	plans := map[string]field.Pack{}
	for _, p := range f.Packs {
		require.NotEmpty(t, p.Zone)
		require.True(t, p.First || p.LastDay != "")
		_, err := field.Open(p)
		require.NoError(t, err)
		plans[p.Plan] = p
	}
	today, err := o.Today(ctx)
	require.NoError(t, err)
	for _, row := range today.Next {
		require.Contains(t, plans, row.ID)
	}
	for _, s := range f.Sheets {
		for _, b := range s.Plan.Blocks {
			require.Contains(t, plans, b.Plan)
		}
	}
	require.LessOrEqual(t, len(f.Packs), 60)
}

// A second device gets the session's clock, its packs and its log from where it left off.
func TestASecondDeviceIsTakenIn(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, field.Choice{})
	_, err := o.Join(ctx, h.Session)
	require.ErrorIs(t, err, practice.ErrNotFound)
	since, err := o.EventsSince(ctx, h.Session, 0)
	require.NoError(t, err)
	require.Empty(t, since.Events, "nothing has come yet")
	_, err = o.Receive(ctx, h.Events)
	require.NoError(t, err)
	o.Clock.Add(20 * time.Second)
	practicetest.Hold(h, 17000, 1, 2000, field.Main)
	_, err = o.Receive(ctx, h.Events)
	require.NoError(t, err)
	j, err := o.Join(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, "Tansy", j.Dog)
	require.Equal(t, plan, j.Packs[0].Plan)
	require.Equal(t, practicetest.Now.UnixMilli(), j.Zero)
	require.Equal(t, int64(20000), j.Now-j.Zero)
	all, err := o.EventsSince(ctx, h.Session, 0)
	require.NoError(t, err)
	require.Len(t, all.Events, len(h.Events))
	rest, err := o.EventsSince(ctx, h.Session, all.At)
	require.NoError(t, err)
	require.Empty(t, rest.Events)
	require.Equal(t, all.At, rest.At)
	other := &field.Hand{Run: h.Run, Session: h.Session, Dev: "helper", By: "helper", NewID: practice.NewID}
	other.Do(20000, []record.Draft{record.NewDraft(record.KTrial, record.Trial{Outcome: "missed"})})
	_, err = o.Receive(ctx, other.Events)
	require.NoError(t, err)
	rest, err = o.EventsSince(ctx, h.Session, all.At)
	require.NoError(t, err)
	require.Len(t, rest.Events, 1)
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 1, v.Evidence.N, "a helper's trial counts when it is accepted")
	require.NoError(t, o.DeleteSession(ctx, h.Session, true))
	_, err = o.Join(ctx, h.Session)
	require.ErrorIs(t, err, practice.ErrNotFound)
}
