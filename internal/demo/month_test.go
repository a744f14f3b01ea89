package demo

import (
	"context"
	"io"
	"log/slog"
	"math/rand/v2"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/practice"
	"patientfox/internal/store"
)

// A month by the clock, worked as Today proposes: a pup with three skills, a worried dog with a setback, and a dog that has soon finished;
// two days on which all goes badly, and three weeks off. Today says what a trainer would: it neither nags nor is silent.
func TestAMonthByTheClock(t *testing.T) {
	ctx := context.Background()
	st, err := store.Open(ctx, t.TempDir()+"/practice.db")
	require.NoError(t, err)
	defer st.Close()
	first := time.Date(2026, 10, 1, 8, 0, 0, 0, time.UTC)
	m := &maker{clock: first, now: first, rng: rand.New(rand.NewPCG(7, 9)), ids: map[string]string{}}
	m.p, err = practice.Open(ctx, st, slog.New(slog.NewTextHandler(io.Discard, nil)), func() time.Time { return m.clock }, "UTC")
	require.NoError(t, err)
	require.NoError(t, m.p.SavePlace(ctx, form.Typed{"name": "the yard"}))
	settings, err := m.p.Settings(ctx)
	require.NoError(t, err)
	m.ids["the yard"], m.ids["Maren Oduya"] = settings.Places[0].ID, settings.Me
	for _, dog := range []form.Typed{
		{"name": "Scupper", "born": "2026-07-30"}, {"name": "Brine", "born": "2022-03-01"}, {"name": "Quill", "born": "2019-03-01"},
	} {
		m.ids[dog["name"]], err = m.p.AddDog(ctx, dog)
		require.NoError(t, err)
	}
	for _, one := range []plan{
		{dog: "Scupper", from: "name-means-look", ability: 1.8, slope: 0.3, gain: 0.03, typed: form.Typed{"skill": "Its name"}},
		{dog: "Scupper", from: "sit", ability: 1.6, slope: 0.3, gain: 0.03, typed: form.Typed{"skill": "Sit"}},
		{dog: "Scupper", from: "settle-on-a-mat", ability: 1.2, slope: 0.5, gain: 0.02, typed: form.Typed{"skill": "Mat"}},
		{dog: "Brine", from: "a-sound-that-worries", ability: 2.2, slope: 0.3, gain: 0.03, typed: form.Typed{"skill": "The foghorn"}},
		{dog: "Quill", ability: 5, slope: 0.2, gain: 0.03, typed: form.Typed{
			"skill": "Touch", "kind": "cued", "position": "nose on the palm", "latency_s": "3", "leg1_make": "figures",
			"leg1_what": "handler", "leg1_items": "0, 2",
		}},
	} {
		one.every, one.places, one.hands = 1, []string{"the yard"}, "Maren Oduya"
		require.NoError(t, m.plan(ctx, &one))
	}
	foghorn := m.ids["The foghorn"]
	reached := func() int {
		v, err := m.p.Plan(ctx, foghorn)
		require.NoError(t, err)
		for _, s := range v.Steps {
			if s.Reached {
				return s.Number
			}
		}
		return 0
	}
	const off, back, last = 18, 40, 46
	rows, stuck, probed := 0, 0, 0
	for day := range last {
		m.clock = first.AddDate(0, 0, day)
		require.NoError(t, m.p.CatchUp(ctx))
		today, err := m.p.Today(ctx)
		require.NoError(t, err)
		for _, one := range today.Next {
			if day < off || day >= back { // meanwhile it is the same row every day
				rows++
				stuck += app.BoolInt(one.Stuck != "")
			}
			if day == back {
				require.Regexp(t, `steps down \(.+\): 23 days since the last session\.`, one.Start, one.Skill)
				require.True(t, one.Neglected, one.Skill)
			}
		}
		for _, one := range append(today.Finished, today.Probes...) {
			require.NotEmpty(t, one.Probe, "day %d: %s is finished, and never probed again", day, one.Skill)
			for _, d := range today.Decide {
				require.NotEqual(t, one.ID, d.Plan, "day %d: %s is finished, and nothing of it waits", day, one.Skill)
			}
		}
		if day >= off && day < back {
			continue
		}
		if day == 12 {
			before := reached()
			require.NoError(t, m.p.AddSetback(ctx, foghorn, form.Typed{
				"what": "the real horn", "steps": "3", "day": m.clock.Format(app.DayLayout),
			}))
			require.NoError(t, m.p.CatchUp(ctx))
			require.Equal(t, max(1, before-3), reached())
		}
		probed += len(today.Probes)
		for _, one := range append(today.Probes, today.Next...) {
			for _, r := range m.runs {
				if r.id != one.ID {
					continue
				}
				if day == 8 || day == 9 {
					r.dog.Rest(25)
				}
				m.clock = m.clock.Add(40 * time.Minute)
				require.NoError(t, m.session(ctx, r, day, false))
				require.NoError(t, m.p.CatchUp(ctx))
			}
		}
	}
	t.Logf("%d of %d rows are called stuck, %d probes", stuck, rows, probed)
	require.LessOrEqual(t, float64(stuck)/float64(rows), 0.10)
	require.Greater(t, probed, 3)
}
