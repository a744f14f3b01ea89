package insight

import (
	"context"
	"encoding/json"
	"fmt"
	"slices"

	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/lookback"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/internal/app"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// VerdictRow is one verdict: what the rule said, why, what was done, and how that went.
type VerdictRow struct {
	Session, Day, Step       string
	Recommended, Why, Action string
	Overruled                bool
	After                    string   // the trials that followed
	Reckoning                []string // the evidence for it
}

// VerdictsView is the page of a plan's verdicts.
type VerdictsView struct {
	ID, Dog, DogID, Skill string
	Rows                  []VerdictRow // newest first
	Overruled             int
	Taken                 int
	WentTaken, WentOver   string // how the trials went after each
	OnlyOverruled         bool
	Table                 app.Table
}

// Older says how many verdicts there are beside those on the page.
func (v VerdictsView) Older() string {
	if n := len(v.Table.Rows); n > len(v.Rows) {
		return fmt.Sprintf("The newest %d of %d.", len(v.Rows), n)
	}
	return ""
}

// after is how many trials say how a verdict went.
const after = 10

// Verdicts lists what the rule said of a plan and what was done, all of it or only where it was overruled.
func (p *Cases) Verdicts(ctx context.Context, id string, overruled bool) (v VerdictsView, err error) {
	err = p.Store.Snapshot(ctx, func(q store.Q) error {
		v, err = p.verdicts(ctx, q, id, overruled)
		return err
	})
	return v, err
}

func (p *Cases) verdicts(ctx context.Context, q store.Q, id string, overruled bool) (v VerdictsView, err error) {
	s, l, err := p.LookIn(ctx, q, id)
	if err != nil {
		return v, err
	}
	if err := p.Ready(ctx, q, l.Dog, l.ID); err != nil {
		return v, err
	}
	h, err := app.ReadHistory(ctx, q, id)
	if err != nil {
		return v, err
	}
	verdicts, err := q.VerdictsOfPlan(ctx, id)
	if err != nil {
		return v, err
	}
	v = VerdictsView{ID: id, Dog: l.DogName, DogID: l.Dog, Skill: l.Name(), OnlyOverruled: overruled}
	v.Table = app.Table{
		Key: "verdicts", Title: "Verdicts", Head: []string{"Day", "Step", "The rule said", "Because", "What was done", "After it"},
	}
	today, day, order := s.Day(p.Ms()), map[string]string{}, map[string]int{}
	for i, one := range h.Sessions {
		day[one.ID], order[one.ID] = one.Day, i
	}
	var taken, over evidence.Tally
	for _, said := range slices.Backward(verdicts) {
		if said.Action == "open" {
			continue // nobody answered it
		}
		row := verdictRow(said, l, app.ShortDay(day[said.Session], today))
		tally := following(h.Trials, order, said)
		if tally.N() > 0 {
			row.After = fmt.Sprintf("%d of the next %d %s", tally.Met, tally.N(), l.Work().Success())
		}
		if row.Overruled {
			v.Overruled++
			over = over.Plus(tally)
		} else {
			v.Taken++
			taken = taken.Plus(tally)
		}
		if row.Overruled || !overruled {
			v.Table.Add(row.Day, row.Step, row.Recommended, row.Why, row.Action, row.After)
			if len(v.Rows) < app.RowsShown {
				_ = derive.Guarded(func() (err error) { // likewise: the verdict is shown without its evidence
					row.Reckoning, err = reckon(said, l, h)
					return err
				})
				v.Rows = append(v.Rows, row)
			}
		}
	}
	v.WentTaken, v.WentOver = went(taken, l.Work().Success()), went(over, l.Work().Success())
	return v, nil
}

func verdictRow(said store.Verdict, l app.Plan, day string) VerdictRow {
	row := VerdictRow{
		Session: said.Session, Day: day, Step: stepNamed(l, said.Step),
		Recommended: phrase.Verdict(decision.Verdict(said.Recommended)), Action: phrase.Action(said.Action),
		Overruled: lookback.Overruled(l.Steps, said.Step, said.Recommended, said.Action),
	}
	var reasons []decision.Reason
	if json.Unmarshal([]byte(said.Reasons), &reasons) == nil { // older logs hold some that nobody can read
		row.Why = phrase.Why(reasons)
	}
	return row
}

// reckon works out the evidence behind a verdict, from the trials that it read as they read now.
func reckon(said store.Verdict, l app.Plan, h app.History) ([]string, error) {
	var rule decision.Rule
	var reads []string
	if err := json.Unmarshal([]byte(said.Rule), &rule); err != nil {
		return nil, fmt.Errorf("rule of verdict %s: %w", said.ID, err)
	}
	if err := json.Unmarshal([]byte(said.Reads), &reads); err != nil {
		return nil, fmt.Errorf("trials of verdict %s: %w", said.ID, err)
	}
	if len(reads) == 0 {
		return nil, nil
	}
	var reasons []decision.Reason
	if json.Unmarshal([]byte(said.Reasons), &reasons) != nil {
		reasons = nil // older logs hold some that nobody can read
	}
	in, blocks := map[string]bool{}, map[string]bool{}
	for _, id := range reads {
		in[id] = true
	}
	var trials []trial.Trial
	for _, t := range h.Trials {
		if in[t.ID] {
			trials, blocks[t.Block] = append(trials, t.Trial), true
		}
	}
	logged, unlogged := 0, 0
	for _, b := range h.Blocks {
		if blocks[b.ID] {
			logged, unlogged = logged+b.Logged, unlogged+b.Unlogged
		}
	}
	return phrase.Reckoning(decision.Reckon(rule, trials, logged, unlogged, reasons), l.Work().Success()), nil
}

// went says a rate without an interval: the same trials may follow several verdicts.
func went(t evidence.Tally, word string) string {
	if t.N() == 0 {
		return "none yet"
	}
	return say.Percent(t.Strict()) + " " + word
}

func stepNamed(l app.Plan, id string) string {
	at := progression.Index(l.Steps, id)
	if at < 0 {
		return "a step that is gone"
	}
	return fmt.Sprintf("%d · %s", at+1, l.Words.Short(l.Steps[at].Criteria))
}

// following counts the trials after a verdict, as far as they say how it went.
func following(trials []store.Trial, order map[string]int, said store.Verdict) evidence.Tally {
	var outcomes []trial.Outcome
	for _, t := range trials {
		later := order[t.Session] > order[said.Session] || t.Session == said.Session && t.At > said.At
		if !later || t.Level != said.Level || t.Waits || t.Easy || t.Outcome.Unread() {
			continue
		}
		if outcomes = append(outcomes, t.Outcome); len(outcomes) == after {
			break
		}
	}
	return evidence.Count(outcomes)
}
