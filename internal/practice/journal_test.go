package practice_test

import (
	"strconv"
	"strings"
	"testing"
	"time"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/homework"
	"patientfox/internal/app/people"
	"patientfox/internal/practicetest"
)

// The journal says what was done, by whom, in a sentence for each row that was changed.
func TestTheJournalSaysWhatWasDone(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 5, 9")
	first, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	person := func(name, role string) string {
		require.NoError(t, o.SavePerson(ctx, form.Typed{"name": name, "role": role}))
		s, err := o.Settings(ctx)
		require.NoError(t, err)
		return s.People[len(s.People)-1].ID
	}
	colleague, family := person("Jorun Vale", "trainer"), person("Hob Calloway", "family")
	step := func(at int) string { return first.Steps[at].ID }
	editing := func(typed form.Typed) func() error {
		return func() error {
			v, err := o.Plan(ctx, plan)
			if err != nil {
				return err
			}
			typed["version"] = strconv.Itoa(v.Version)
			return o.EditSteps(ctx, plan, typed)
		}
	}
	version := func() string {
		v, err := o.Plan(ctx, plan)
		require.NoError(t, err)
		return strconv.Itoa(v.Version)
	}
	reward := func() (id string) {
		v, err := o.Rewards(ctx, dog)
		require.NoError(t, err)
		return v.Tiers[0].Rewards[0].ID
	}
	for _, one := range []struct {
		does func() error
		says string // its lines, with a break between
	}{
		{
			func() error {
				return o.SaveReward(ctx, dog, form.Typed{"name": "chips, “crisp” 🐟", "kind": "food", "grams": "1", "kcal": "4"})
			},
			"Reward “chips, “crisp” 🐟” added",
		},
		{
			func() error {
				return o.SaveReward(ctx, dog, form.Typed{"id": reward(), "version": "1", "name": "chips", "kind": "food", "grams": "1", "kcal": "3.5"})
			},
			"Reward “chips, “crisp” 🐟”: name changed from “chips, “crisp” 🐟” to “chips” and energy of a piece changed from 4 kcal to 3.5 kcal",
		},
		{func() error { return o.DeleteReward(ctx, reward(), true) }, "Reward “chips” archived"},
		{
			func() error { return o.SaveFeeding(ctx, dog, form.Typed{"weight_kg": "12", "version": "1"}) },
			"Tansy: weight set to 12 kg\nWeight of 23 Nov 2026: 12 kg added",
		},
		{
			editing(form.Typed{"op": "save", "step": step(1), "duration": "6", "handler": "0"}),
			"Plan “Wait at the ramp”: step 2 changed from “5 s, you beside” to “6 s, you beside”",
		},
		{editing(form.Typed{"op": "split", "step": step(2)}), "Plan “Wait at the ramp”: step 3 added: 7.3 s, you beside"},
		{editing(form.Typed{"op": "remove", "step": step(2)}), "Plan “Wait at the ramp”: step 4 taken out: 9 s, you beside"},
		{
			func() error { return o.SaveRule(ctx, plan, ruleForm(t, o, plan, form.Typed{"kind": "run"})) },
			"Plan “Wait at the ramp”: rule changed from “Sets of five. Up at 5, back at 2 or fewer right, split after three repeats. " +
				"Back at once on two misses running.” to “Runs. " +
				"Up after six met in a row, back after two not right. Back at once on two misses running.”",
		},
		{
			func() error {
				return o.SaveManagement(ctx, plan, form.Typed{"version": version(), "not1": "the ramp alone", "instead1": "carry her"})
			},
			"Plan “Wait at the ramp”: management changed",
		},
		{func() error {
			return o.SaveCueing(ctx, plan, form.Typed{"version": version(), "cue_new": "“wait”", "cue_old": "the hand"})
		}, "Plan “Wait at the ramp”: cue changed"},
		{
			func() error {
				v, err := o.Plan(ctx, plan)
				if err != nil {
					return err
				}
				typed := form.Typed{}
				for field, value := range v.DefinitionForm {
					typed[field] = value
				}
				typed["position"] = "behind the lip, “all four”"
				return o.SaveDefinition(ctx, plan, typed)
			},
			"What counts as met in “Wait at the ramp” changed. Now: Behind the lip, “all four”; before: All four feet behind the ramp's lip",
		},
		{
			func() error { return o.AddSetback(ctx, plan, form.Typed{"what": "the horn", "steps": "1"}) },
			"Setback “the horn” of 1 step in “Wait at the ramp” noted",
		},
		{func() error { return o.DeletePlan(ctx, plan, true) }, "Plan “Wait at the ramp” archived"},
		{func() error { return o.DeletePlan(people.As(ctx, colleague), plan, false) }, "Plan “Wait at the ramp” restored"},
		{func() error { return o.SavePlace(ctx, form.Typed{"name": "the net shed"}) }, "Place “the net shed” added"},
		{func() error {
			return o.SavePerson(ctx, form.Typed{"id": colleague, "name": "Jorun Vale", "role": "helper"})
		}, "Jorun Vale: role changed from “trainer” to “helper”"},
		{func() error {
			return o.MarkSite(ctx, dog, form.Typed{"marked": "right ear", "mark": "sore", "said": "the vet"})
		}, "Mark “sore” on “right ear” added"},
		{func() error {
			return o.MarkSite(ctx, dog, form.Typed{"marked": "right ear", "mark": "sore", "said": "the vet again"})
		}, "Mark “sore” on “right ear”: what was said changed from “the vet” to “the vet again”"},
		{func() error {
			return o.SaveTask(ctx, dog, form.Typed{"task": "Coat", "sites": "back, tail", "every": "3"})
		}, "Care task “Coat” added"},
		{func() error { return o.SaveHouse(ctx, dog, form.Typed{"never": "the gate\nstairs", "version": "0"}) }, "House rules added"},
		{func() error {
			return o.SaveHouse(ctx, dog, form.Typed{"never": "the gate", "always": "a sit", "version": "1"})
		}, "House rules: “Never” changed from “the gate; stairs” to “the gate” and “Always” set to “a sit”"},
		{func() error { _, err := o.AddSheet(ctx, dog, form.Typed{"minutes": "5"}); return err }, "Session plan for 23 Nov 2026, 15:25 added"},
		{func() error {
			return o.StartExperiment(ctx, plan, form.Typed{"way_a": "food", "way_b": "tug", "pairs": "6", "each": "4"})
		}, "Experiment “food” or “tug” in “Wait at the ramp” planned"},
		{func() error {
			return o.SaveHealth(ctx, dog, form.Typed{"kind": "sore", "what": "left paw", "said": "limps"})
		}, "Sore: “left paw” of 23 Nov 2026 added"},
		{
			func() error {
				return o.SaveContacts(ctx, dog, form.Typed{"vet": "at the green door", "photos": "yes", "agreed": "Hob", "version": "0"})
			},
			"Contacts added",
		},
		{func() error { _, err := o.MakeLink(ctx, dog, form.Typed{"with": family}); return err }, "Homework link of Hob Calloway made"},
		{func() error {
			return o.SaveDog(ctx, dog, form.Typed{"name": "Tansy Two", "version": "2", "weight_kg": "12", "born": "2025-01-02", "notes": "x"})
		}, "Tansy: name changed from “Tansy” to “Tansy Two”, date of birth set to 2 Jan 2025 and notes set to “x”"},
		{func() error { return o.Leave(ctx, colleague) }, "Jorun Vale left the practice"},
		{func() error { return o.ComeBack(ctx, colleague) }, "Jorun Vale came back"},
		{func() error { return o.DeleteDog(ctx, dog, true) }, "Tansy Two archived"},
	} {
		o.Clock.Add(time.Minute)
		require.NoError(t, one.does())
		j, err := o.Journal(ctx, form.Typed{})
		require.NoError(t, err)
		require.Equal(t, one.says, strings.Join(j.Days[0].Deeds[0].Lines, "\n"))
	}
	j, err := o.Journal(ctx, form.Typed{"person": colleague})
	require.NoError(t, err)
	require.Len(t, j.Days, 1)
	require.Len(t, j.Days[0].Deeds, 1, "what a colleague did is in their name")
	require.Equal(t, "Jorun Vale", j.Days[0].Deeds[0].By)
	require.Equal(t, []app.Named{{ID: dog, Name: "Tansy Two"}}, j.Days[0].Deeds[0].Dogs)
}

// The journal can be narrowed, goes on page by page without a deed twice, and its file holds each row before and after.
func TestTheJournalIsNarrowedAndExported(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Quill"})
	require.NoError(t, err)
	other, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	o.Clock.Add(24 * time.Hour)
	for i := range 45 {
		require.NoError(t, o.SaveTask(ctx, dog, form.Typed{"task": "Coat " + strconv.Itoa(i), "sites": "back", "every": "3"}))
	}
	require.NoError(t, o.SavePlace(ctx, form.Typed{"name": "the slip, =1+1"}))
	look := func(t2 form.Typed) (lines []string, earlier string) {
		v, err := o.Journal(ctx, t2)
		require.NoError(t, err)
		for _, day := range v.Days {
			for _, d := range day.Deeds {
				lines = append(lines, d.Lines...)
			}
		}
		return lines, v.Earlier
	}
	seen := map[string]bool{}
	pages, before := 0, ""
	for pages = 1; ; pages++ {
		lines, earlier := look(form.Typed{"dog": dog, "before": before})
		for _, line := range lines {
			require.False(t, seen[line], line)
			seen[line] = true
		}
		if earlier == "" {
			break
		}
		before = earlier
	}
	require.Equal(t, 2, pages)
	require.Len(t, seen, 46)
	lines, _ := look(form.Typed{"area": "practice"})
	require.Equal(t, "Place “the slip, =1+1” added", lines[0])
	lines, _ = look(form.Typed{"area": "nothing of the kind"})
	require.Empty(t, lines)
	day := o.Clock.Now().Format("2006-01-02")
	lines, _ = look(form.Typed{"area": "dogs", "from": day})
	require.Empty(t, lines, "both dogs came the day before")
	lines, _ = look(form.Typed{"area": "dogs", "to": o.Clock.Now().AddDate(0, 0, -1).Format("2006-01-02")})
	require.Equal(t, []string{"Brine added", "Quill added"}, lines)
	_, err = o.Journal(ctx, form.Typed{"from": "yesterday"})
	invalid(t, err, "from")

	table, err := o.JournalTable(ctx, form.Typed{"dog": other})
	require.NoError(t, err)
	require.Len(t, table.Rows, 1)
	row := table.Rows[0]
	require.Equal(t, []string{"Trainer", "Brine", "dogs", other, "Brine added", ""}, row[1:7])
	require.Contains(t, row[7], `"name":"Brine"`)
}

// What a household sends by its link is in their name, and a device that is paired or unpaired in the name of whose it is.
func TestTheJournalNamesWhoCameFromOutside(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog, me, kes := withKes(t, o)
	five := []work.Key{work.Main, work.Main, work.Main, work.Main, work.Main}
	heldBy(t, o, plan, me, trial.Roles{}, five...)
	heldBy(t, o, plan, kes, trial.Roles{}, five...)
	require.NoError(t, o.Give(ctx, dog, form.Typed{"with": kes, "skills": plan}))
	token, err := o.MakeLink(ctx, dog, form.Typed{"with": kes})
	require.NoError(t, err)
	link, err := o.Link(ctx, token)
	require.NoError(t, err)
	home, err := o.AtHome(ctx, link)
	require.NoError(t, err)
	one := homework.Sent{ID: uuid.NewString(), Plan: plan, Step: home.Skills[0].At.ID, Day: home.Day, Met: 4, Of: 5}
	_, err = o.FromHome(ctx, link, []homework.Sent{one})
	require.NoError(t, err)
	code, err := o.Pair(ctx, form.Typed{"person": kes})
	require.NoError(t, err)
	claim, err := o.ClaimCode(ctx, "10.0.0.9", code)
	require.NoError(t, err)
	cookie, err := o.TakeClaim(ctx, claim, "Kes’s phone")
	require.NoError(t, err)
	require.NoError(t, o.SignOutMine(people.As(ctx, kes), cookie, false))
	require.NoError(t, o.EndLink(ctx, dog, link.ID))
	v, err := o.Journal(ctx, form.Typed{})
	require.NoError(t, err)
	var said []string
	for _, d := range v.Days[0].Deeds[:5] {
		said = append(said, d.By+": "+strings.Join(d.Lines, "; "))
	}
	require.Equal(t, []string{
		"Trainer: Homework link of Kes, “K.” ended", "Kes, “K.”: Device “Kes’s phone” of Kes, “K.” unpaired",
		"Kes, “K.”: Device “Kes’s phone” of Kes, “K.” paired",
		"Kes, “K.”: Homework of Kes, “K.” in “Wait at the ramp”: 4 of 5 on 23 Nov 2026 entered", "Trainer: Homework link of Kes, “K.” made",
	}, said)
	table, err := o.JournalTable(ctx, form.Typed{})
	require.NoError(t, err)
	for _, row := range table.Rows {
		require.NotContains(t, strings.Join(row, " "), token)
		require.NotContains(t, strings.Join(row, " "), cookie)
	}
}
