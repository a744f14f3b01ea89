package sessions

import (
	"cmp"
	"context"
	"encoding/json"
	"errors"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"time"

	"patientfox/core/caution"
	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/lookback"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// ReviewView is the page of one session.
type ReviewView struct {
	lookback.View
	ID, Plan, Dog, DogID, Skill string
	Day, Place, Time            string
	Open                        bool
	Away                        bool
	NextTime                    string // where the next session opens
	Mode                        string // what it was for, where it did not teach
	Tags                        string
	TagNames                    []string    // used in this practice before
	File                        app.Table   // trial by trial
	Skills                      []app.Named // its plans, where there are several
	corrector                   corrector
	Handlers                    []app.Named          // who handled the dog in it
	HelpedBy                    []string             // who else did what: “Sam held it”
	Puts                        []PutForm            // of a trial that was forgotten, by block
	Corrected                   bool                 // there is a correction to take back
	Planned                     *lookback.Comparison // beside its plan, nil where it followed none
	Sheet                       string
}

// modeSays names what a session was for, where it did not teach.
var modeSays = map[record.Mode]string{
	record.Placing: "Placing", record.Baseline: "Baseline", record.Probe: "Probe", record.Rehearsal: "Rehearsal",
}

// modeOf names what a whole session was for, "" where any of it taught.
func modeOf(f *record.Session) string {
	for _, b := range f.Blocks {
		if b.Mode != f.Blocks[0].Mode {
			return ""
		}
	}
	return modeSays[f.Blocks[0].Mode]
}

// Review shows one session.
//
// One that cannot be read is ErrAside: its log can still be looked at.
func (p *Cases) Review(ctx context.Context, id string) (ReviewView, error) {
	return app.Remember(ctx, p.Practice, "session "+id, app.On[ReviewView](app.AllDogs), func() (v ReviewView, err error) {
		err = derive.Guarded(func() (err error) {
			v, err = p.makeReview(ctx, id)
			return err
		})
		if err != nil && !store.Failed(err) && !errors.Is(err, app.ErrNotFound) && ctx.Err() == nil {
			return v, fmt.Errorf("%w: %w", derive.ErrAside, err)
		}
		return v, err
	})
}

func (p *Cases) makeReview(ctx context.Context, id string) (v ReviewView, err error) {
	q := p.Store.Read()
	row, err := q.Session(ctx, id)
	if err != nil {
		return v, app.Found(err)
	}
	followed, err := followedBy(ctx, q, row)
	if err != nil {
		return v, err
	}
	log, f, b, err := p.Fold(ctx, q, id, app.PlansOf(followed)...)
	if err != nil {
		return v, err
	}
	if len(f.Blocks) == 0 {
		return v, app.ErrNotFound
	}
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	plan, known := b.Plans[f.Blocks[0].Plan]
	if !known {
		return v, app.ErrNotFound
	}
	at := time.UnixMilli(f.Wall).In(s.Zone)
	v = ReviewView{
		ID: id, Plan: plan.ID, Dog: plan.DogName, DogID: plan.Dog, Skill: plan.SkillName, Day: at.Format("Monday 2 January"),
		Time: at.Format("15:04"),
		Open: f.Ended == nil, Away: row.Deleted != nil, Place: row.Where,
	}
	var body library.Body
	if err := json.Unmarshal([]byte(plan.Body), &body); err != nil {
		return v, err
	}
	v.Tags, v.Mode = strings.Join(f.Tags, ", "), modeOf(f)
	if v.TagNames, err = q.TagNames(ctx, app.RowsShown); err != nil {
		return v, err
	}
	v.View = lookback.Read(log, f, bandOf(body, f), s.Words())
	for _, id := range workedIn(f) {
		v.Skills = append(v.Skills, app.Named{ID: id, Name: app.Plan{Plan: b.Plans[id]}.Name()})
	}
	if v.NextTime, err = nextTime(ctx, q, b, workedIn(f), row, s.Day(p.Ms()), s.Words()); err != nil {
		return v, err
	}
	if err := p.corrections(ctx, q, &v, log, f, b, s.Words()); err != nil {
		return v, err
	}
	v.NextTime = strings.TrimSpace(v.NextTime + "\n" + v.others(f, b))
	v.Flags = append(v.Flags, caution.For(caution.Where{Recorded: v.file()})...)
	err = v.planned(followed, f, b)
	return v, err
}

// others says where the session left the handlers beside the main ones, a line each.
func (v ReviewView) others(f *record.Session, b derive.Book) string {
	var lines []string
	seen := map[record.Line]bool{}
	for _, block := range slices.Backward(f.Blocks) {
		line, plan := block.Line(), b.Plans[block.Plan]
		if at := progression.Index(block.Steps, block.Position.Reached); at >= 0 && !seen[line] && line.Level != plan.MainLevel() {
			said := fmt.Sprintf("With %s it had reached step %d.", cmp.Or(v.HandlerOf(block.Handler), "another handler"), at+1)
			if len(v.Skills) > 1 {
				said = v.SkillOf(block.Plan) + ": " + say.Lower(said)
			}
			lines = append(lines, said)
		}
		seen[line] = true
	}
	slices.Reverse(lines)
	return strings.Join(lines, "\n")
}

// Corrections are what can be corrected of a trial, nil where there is no such trial or it came from a tally.
func (v ReviewView) Corrections(id string) []CorrectField {
	for i := range v.corrector.f.Trials {
		if t := &v.corrector.f.Trials[i]; t.ID == id && !t.Tally {
			return v.corrector.fields(v.corrector.block(t.Block), t)
		}
	}
	return nil
}

// PutForm is what a trial that was forgotten in one block can say.
type PutForm struct {
	Block, Skill string
	Step         string // where it was worked last
	Steps        []app.Named
	Fields       []CorrectField
}

// corrections are what can be corrected of a session.
func (p *Cases) corrections(
	ctx context.Context, q store.Q, v *ReviewView, log *record.Log, f *record.Session, b derive.Book, words phrase.Words,
) error {
	c, err := p.corrector(ctx, q, f, b)
	if err != nil {
		return err
	}
	v.corrector = c
	for _, one := range c.people {
		if slices.ContainsFunc(v.Table, func(row lookback.TrialLine) bool { return row.Handler == one.ID }) {
			v.Handlers = append(v.Handlers, one)
		}
	}
	v.roles()
	for _, block := range f.Blocks {
		put := PutForm{Block: block.ID, Skill: c.names[block.Plan], Step: block.Position.Today, Fields: slices.DeleteFunc(c.putFields(block),
			func(f CorrectField) bool { return f.Name == "block" })}
		for i, step := range block.Steps {
			put.Steps = append(put.Steps, app.Named{ID: step.ID, Name: fmt.Sprintf("%d · %s", i+1, words.Short(step.Criteria))})
		}
		if slices.ContainsFunc(f.Blocks, func(other *record.Block) bool { return other.Plan == block.Plan && other.ID != block.ID }) {
			put.Skill += ", from " + say.Clock(block.At)
		}
		if who := v.HandlerOf(block.Handler); who != "" && len(v.Handlers) > 1 {
			put.Skill += ", with " + who
		}
		v.Puts = append(v.Puts, put)
	}
	v.Corrected = len(lastCorrection(log.Events())) > 0
	return nil
}

// file is the session trial by trial, for its CSV; careful tells whether any response to an error calls for a caution.
func (v *ReviewView) file() (careful bool) {
	v.File = app.Table{
		Key: "trials", Title: "Trial by trial",
		Head: []string{"No.", "Time", "Skill", "Handler", "Step", "Outcome", "Measured", "Paid", "Source", "After it", "Instead", "Beside it"},
	}
	for _, row := range v.Table {
		careful = careful || criteria.Cautioned(row.After)
		v.File.Add(strconv.Itoa(row.Number), row.Time, v.SkillOf(row.Plan), v.HandlerOf(row.Handler), row.Step, row.Outcome, row.Measure,
			row.Paid, row.Source, row.After, row.Instead, row.Note)
	}
	return careful
}

// SkillOf names a plan of the session: its skill, and its track where it has one.
func (v ReviewView) SkillOf(plan string) string {
	for _, one := range v.Skills {
		if one.ID == plan {
			return one.Name
		}
	}
	return v.Skill
}

// HandlerOf names a handler of the session, "" where that is nobody that the practice knows.
func (v ReviewView) HandlerOf(id string) string {
	for _, one := range v.Handlers {
		if one.ID == id {
			return one.Name
		}
	}
	return ""
}

// roles says of each trial who held the dog and who fed it, where that was somebody beside the handler, and names them in order.
func (v *ReviewView) roles() {
	for _, role := range []struct {
		by, did string
		of      func(*lookback.TrialLine) string
	}{
		{"held by ", " held it", func(l *lookback.TrialLine) string { return l.Holds }},
		{"fed by ", " fed it", func(l *lookback.TrialLine) string { return l.Feeds }},
	} {
		for _, one := range v.corrector.people {
			did := false
			for i := range v.Table {
				if row := &v.Table[i]; role.of(row) == one.ID {
					row.Note, did = strings.Trim(row.Note+" · "+role.by+one.Name, " ·"), true
				}
			}
			if did {
				v.HelpedBy = append(v.HelpedBy, one.Name+role.did)
			}
		}
	}
}

// HandledBy names who handled the dog, "" in a practice of one person.
func (v ReviewView) HandledBy() string {
	if len(v.corrector.people) < 2 {
		return ""
	}
	var names []string
	for _, one := range v.Handlers {
		names = append(names, one.Name)
	}
	return say.List(names)
}

// bandOf is the rate that was planned where a session began.
func bandOf(body library.Body, f *record.Session) reinforce.Band {
	pay := body.Pay
	if len(f.Trials) > 0 {
		pay, _ = body.PayAt(f.Trials[0].Step)
	}
	return pay.Band
}

// followedBy is the planned session that a session followed, none where it followed none.
func followedBy(ctx context.Context, q store.Q, session store.Session) ([]app.Planned, error) {
	if session.Sheet == "" {
		return nil, nil
	}
	row, err := q.Sheet(ctx, session.Sheet)
	if errors.Is(err, store.ErrNone) {
		return nil, nil
	}
	if err != nil {
		return nil, err
	}
	pl, err := app.PlannedOf(row)
	return []app.Planned{pl}, err
}

// planned compares the session with its sheet, where it followed one.
func (v *ReviewView) planned(followed []app.Planned, f *record.Session, b derive.Book) error {
	if len(followed) == 0 {
		return nil
	}
	pl := followed[0]
	p := lookback.Planned{Sheet: pl.Body, Names: map[string]string{}, Main: map[string]string{}, Band: map[string]reinforce.Band{}}
	for id, one := range b.Plans {
		p.Names[id], p.Main[id] = app.Plan{Plan: one}.Name(), one.Main
		var body library.Body
		if err := store.FromJSON(one.Body, &body); err != nil {
			return err
		}
		p.Band[id] = body.Pay.Band
		for _, planned := range pl.Body.Blocks {
			if planned.Plan == id {
				pay, _ := body.PayAt(planned.Step)
				p.Band[id] = pay.Band
			}
		}
	}
	c := lookback.Against(p, f)
	v.Planned, v.Sheet = &c, f.Sheet
	return nil
}

// workedIn are the plans of a folded session, each once.
func workedIn(f *record.Session) (ids []string) {
	for _, b := range f.Blocks {
		if !slices.Contains(ids, b.Plan) {
			ids = append(ids, b.Plan)
		}
	}
	return ids
}

// since tells whether a plan was worked again after a session.
func since(ctx context.Context, q store.Q, l *app.Plan, session store.Session) (bool, error) {
	switch last := l.Standing.LastSession; {
	case l.Standing.LastDay != session.Day:
		return l.Standing.LastDay > session.Day, nil
	case last == "" || last == session.ID:
		return false, nil
	default:
		other, err := q.Session(ctx, last)
		if errors.Is(err, store.ErrNone) {
			return false, nil
		}
		return other.Opened > session.Opened, err
	}
}

// nextTime says where the next session of each plan opens, if this one was its last.
func nextTime(
	ctx context.Context, q store.Q, b derive.Book, ids []string, session store.Session, today string, words phrase.Words,
) (string, error) {
	var lines []string
	for _, id := range ids {
		row, known := b.Plans[id]
		if !known {
			continue
		}
		l := app.Plan{Plan: row, Steps: b.Current(id), Words: words}
		again, err := since(ctx, q, &l, session)
		if err != nil {
			return "", err
		}
		if again {
			line := "It was worked again since then: its plan says what comes next."
			if len(ids) > 1 {
				line = l.Name() + ": " + say.Lower(line)
			}
			lines = append(lines, line)
			continue
		}
		opens := app.RowOf(l, today)
		at := l.Reached() - opens.Down
		line := fmt.Sprintf("Step %d: %s. ", at+1, words.Step(l.Steps[at].Criteria)) + phrase.StartHere(opens.Down, opens.Drops)
		if len(ids) > 1 {
			line = l.Name() + ", step" + line[4:]
		}
		lines = append(lines, line)
	}
	return strings.Join(lines, "\n"), nil
}

// Tag says how a session was, in a few words each: weather, people, noise. They are compared in the evidence.
func (p *Cases) Tag(ctx context.Context, id string, t form.Typed) error {
	tags, wrong := session.ReadTags(t["tags"])
	if wrong != nil {
		ps := form.Problems{}
		ps.Add(wrong.Field, screen.Text(*wrong))
		return ps.Err()
	}
	events, err := p.Store.Read().Events(ctx, id)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(events, func(e record.Event) bool { return e.Kind == record.KOpen })
	if at < 0 {
		return app.ErrNotFound
	}
	return p.logs(ctx, id, []logged{{Draft: record.NewDraft(record.KAmend, record.AmendData{
		Target: events[at].ID, Set: map[string]json.RawMessage{"tags": json.RawMessage(store.JSON(tags))},
	})}})
}

// DeleteSession puts a session away, or brings it back. Its events stay.
func (p *Cases) DeleteSession(ctx context.Context, id string, away bool) error {
	defer p.Kick()
	return p.Away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteSession(ctx, id, at) })
}
