package plans

import (
	"context"
	"encoding/json"
	"fmt"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// VersionRow is one version of a plan or of a definition.
type VersionRow struct {
	Version  int
	Day, By  string
	What     string
	Steps    int
	Current  bool
	Ticks    []string // of a definition
	Sessions int      // that ran under it
}

// HistoryView is the page of what a plan and its definition said before.
type HistoryView struct {
	ID, Dog, DogID, Skill string
	Version               int
	Plans, Definitions    []VersionRow
	Reread                *RereadView
}

// RereadView is what past trials count for under another definition, beside what they counted for.
type RereadView struct {
	Version  int
	Rows     []RereadRow
	Then     string // the whole, as it was scored
	Now      string // the whole, under that definition
	Changed  int
	Unclear  int // trials whose measures do not tell
	Measured int
}

// RereadRow is one session, side by side.
type RereadRow struct {
	Session, Day string
	Then, Now    string
	Changed      int
}

// what an edit was, for the list of versions.
var whys = map[string]string{
	"made": "Laid out", "copied": "Copied from another dog's plan",
	"save": "A step changed", "add": "A step added", "split": "A half step put in", "merge": "Two steps made one",
	"mend": "A step mended", "remove": "A step taken out", "up": "Steps reordered", "down": "Steps reordered", "move": "Steps reordered",
	"count": "A step counted anew",
	"list":  "The words of a list changed", "rule": "Rule and pay changed", "undo": "An earlier version brought back",
	"laid out": "Steps laid out",
	"table":    "Steps changed in the table",
	"needs":    "What must stand first changed", "management": "Management changed", "cue": "The cue changed",
}

// versionsShown is how many versions the page lists.
const versionsShown = 60

// History shows the versions of a plan and of its definition. With reread > 0 the trials are read again
// under that version of the definition, and under the steps as they are now.
func (p *Cases) History(ctx context.Context, id string, reread int) (v HistoryView, err error) {
	q, s, l, err := p.Look(ctx, id)
	if err != nil {
		return v, err
	}
	v = HistoryView{ID: id, Dog: l.DogName, DogID: l.Dog, Skill: l.SkillName, Version: l.Version}
	versions, err := q.PlanVersions(ctx, l.Main, versionsShown)
	if err != nil {
		return v, err
	}
	for _, one := range versions {
		v.Plans = append(v.Plans, VersionRow{
			Version: one.Version, Day: s.Moment(one.Made), By: one.By, What: whyOf(one.Why), Steps: one.Steps,
			Current: one.Version == l.Version,
		})
	}
	defs, err := q.Definitions(ctx, []string{l.Skill})
	if err != nil {
		return v, err
	}
	h, err := app.ReadHistory(ctx, q, id)
	if err != nil {
		return v, err
	}
	past, err := v.definitions(l, s, h, defs, reread)
	if err != nil {
		return v, err
	}
	if reread <= 0 {
		return v, nil
	}
	if v.Reread == nil {
		return v, app.ErrNotFound
	}
	v.Reread = rereadOf(l, past, reread, h, s.Day(p.Ms()))
	return v, nil
}

// definitions lists the versions of the definition, and returns them by their number; the one to be read again is marked.
func (v *HistoryView) definitions(
	l app.Plan, s app.Profile, h app.History, defs []store.Definition, reread int,
) (map[int]criteria.Definition, error) {
	ran := map[int]map[string]bool{}
	for _, b := range h.Blocks {
		if ran[b.Definition] == nil {
			ran[b.Definition] = map[string]bool{}
		}
		ran[b.Definition][b.Session] = true
	}
	past := map[int]criteria.Definition{}
	var before criteria.Definition
	for _, d := range defs {
		var def criteria.Definition
		if err := json.Unmarshal([]byte(d.Body), &def); err != nil {
			return nil, err
		}
		row := VersionRow{
			Version: d.Version, Day: s.Moment(d.Made), By: d.By, Ticks: phrase.Ticks(work.Kind(l.Kind), def),
			Current: d.Version == l.Definition, Sessions: len(ran[d.Version]),
		}
		if d.Version > 1 {
			row.What = phrase.DefinitionChange(work.Kind(l.Kind), before, def)
		}
		before, past[d.Version] = def, def
		v.Definitions = append([]VersionRow{row}, v.Definitions...)
		if d.Version == reread {
			v.Reread = &RereadView{Version: d.Version}
		}
	}
	return past, nil
}

func whyOf(why string) string {
	if text, ok := whys[why]; ok {
		return text
	}
	return say.Upper(why)
}

// rereadOf reads a plan's trials again under a definition and the steps as they are now.
func rereadOf(l app.Plan, past map[int]criteria.Definition, version int, h app.History, today string) *RereadView {
	v, def := &RereadView{Version: version}, past[version]
	var then, now []trial.Outcome
	for _, one := range h.Sessions {
		row := RereadRow{Session: one.ID, Day: app.ShortDay(one.Day, today)}
		var was, is []trial.Outcome
		for _, t := range h.Trials {
			if t.Session != one.ID || t.Easy || t.Tally || t.Waits {
				continue
			}
			outcome := t.Outcome
			read, measured := rereadTrial(l, past[t.Definition], def, t)
			switch {
			case !measured:
				v.Unclear++
				read = outcome
			default:
				v.Measured++
			}
			if read != outcome {
				row.Changed++
			}
			was, is = append(was, outcome), append(is, read)
		}
		if len(was) == 0 {
			continue
		}
		then, now = append(then, was...), append(now, is...)
		row.Then, row.Now = tallied(was), tallied(is)
		v.Changed += row.Changed
		v.Rows = append([]RereadRow{row}, v.Rows...)
	}
	v.Then, v.Now = phrase.Rate(evidence.Count(then), "met"), phrase.Rate(evidence.Count(now), "met")
	return v
}

// rereadTrial judges one trial again; measured is false where no raw measure was kept that the
// definition or the step could be read against.
func rereadTrial(l app.Plan, was, def criteria.Definition, t store.Trial) (trial.Outcome, bool) {
	at := progression.Index(l.Steps, t.Step)
	if at < 0 || t.LatencyS == nil && t.HeldS == nil {
		return "", false
	}
	raw, how := t.Trial, work.How{Released: t.Outcome != trial.Missed}
	judge := func(def criteria.Definition) trial.Outcome {
		return l.Work().Judge(raw.Judge, def, l.Steps[at].Criteria, &raw, how).Outcome
	}
	switch {
	case t.HeldS != nil && (raw.Tapped == trial.Met || raw.Tapped == trial.Missed):
		raw.Tapped = "" // how long it held says which
	case t.LatencyS != nil && raw.Tapped == trial.Late:
		// Right, and whether in time the measure says; but not where somebody called it late against it.
		if raw.Tapped = trial.Met; judge(was) == trial.Met {
			return trial.Late, true
		}
	}
	return judge(def), true
}

func tallied(outcomes []trial.Outcome) string {
	c := evidence.Count(outcomes)
	var parts []string
	for _, one := range []struct {
		n    int
		word string
	}{{c.Met, "met"}, {c.Late, "slow"}, {c.Helped, "helped"}, {c.Missed, "missed"}} {
		if one.n > 0 {
			parts = append(parts, fmt.Sprintf("%d %s", one.n, one.word))
		}
	}
	return strings.Join(parts, ", ")
}
