package sessions

import (
	"context"
	"encoding/json"
	"fmt"
	"maps"
	"math"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// reviewDevice logs what is corrected on the page of a session.
const reviewDevice = "review"

// outcomes are those that a trial can be corrected to.
var outcomes = []trial.Outcome{trial.Met, trial.Late, trial.Helped, trial.Missed, trial.LetGo, trial.Void}

// phaseOutcomes are those that a part of a trial can be corrected to.
var phaseOutcomes = outcomes[:4]

// elsewhere are the kinds of fields that are read by themselves: pays, settings and phases.
var elsewhere = []fieldKind{pieces, paid, setting, phase}

// read turns what was typed into fields of an event: of those that were given, and say something else than before.
func (c corrector) read(ps form.Problems, t form.Typed, fields []CorrectField) map[string]json.RawMessage {
	set := map[string]json.RawMessage{}
	if worked, changed := c.readSettings(ps, t, fields); changed {
		set["worked"] = json.RawMessage(store.JSON(worked))
	}
	for _, one := range fields {
		typed, given := t[one.Name]
		if typed = strings.TrimSpace(typed); !given || typed == one.Value || slices.Contains(elsewhere, one.kind) {
			continue
		}
		if one.Options != nil && !slices.ContainsFunc(one.Options, func(o app.Named) bool { return o.ID == typed }) {
			ps.Add(one.Name, "Choose one of the list.")
			continue
		}
		var value any = typed
		switch one.kind {
		case word:
			ps.Text(one.Name, typed, criteria.MaxName)
		case flag:
			value = typed == "true"
		case list:
			value = words(ps, one.Name, typed)
		case whole:
			value = nil
			if typed != "" {
				value = ps.Whole(t, one.Name, 0, 1000, "A whole figure from 0 to 1000.")
			}
		case seconds:
			value = nil
			if typed != "" {
				value = ps.Number(t, one.Name, -600, 7200, "Seconds, in figures.")
			}
		}
		set[one.Name] = json.RawMessage(store.JSON(value))
	}
	return set
}

// touched makes one correction of what is said of a touch: what was said as it began would win over single fields.
func touched(set map[string]json.RawMessage, touch trial.Touch) {
	changed := false
	for name, to := range map[string]any{
		"site": &touch.Site, "tool": &touch.Tool, "taken": &touch.Taken, "pulled": &touch.Pulled, "done": &touch.Done,
	} {
		if raw, given := set[name]; given {
			changed = json.Unmarshal(raw, to) == nil || changed
			delete(set, name)
		}
	}
	if changed {
		set["touched"] = json.RawMessage(store.JSON(touch))
	}
}

// redealt corrects what a trial asked, and how its set-up was, to the card that was really dealt.
func (c corrector) redealt(t *trial.Trial, set map[string]json.RawMessage) {
	card, b := 0, c.block(t.Block)
	at := progression.Index(b.Steps, t.Step)
	if json.Unmarshal(set["card"], &card) != nil || card < 1 || card > len(b.Deck) || at < 0 {
		return
	}
	asked, worked := maps.Clone(t.Asked), maps.Clone(t.Worked)
	if raw, given := set["worked"]; given {
		worked = nil
		_ = json.Unmarshal(raw, &worked) // written by readSettings
	}
	for key := range b.Deck[t.Card-1] {
		delete(asked, key)
		delete(worked, key)
	}
	set["asked"] = json.RawMessage(store.JSON(work.CardAsked(b.Deck[card-1], asked)))
	set["worked"] = json.RawMessage(store.JSON(work.CardWorked(b.Steps[at].Criteria, b.Deck[card-1], worked)))
}

// rephased corrects the parts of a trial. What the trial was follows from them, unless that is corrected too.
func rephased(ps form.Problems, typed form.Typed, t *trial.Trial, set map[string]json.RawMessage) {
	phases, changed := slices.Clone(t.Phases), false
	for i := range phases {
		p, name := &phases[i], "phase"+strconv.Itoa(i+1)
		if took, given := typed[name+"_s"]; given && strings.TrimSpace(took) != typedSeconds(&p.S) {
			p.S, changed = ps.Number(typed, name+"_s", 0, 7200, "Seconds, 0 to 7200."), true
		}
		how, given := typed[name]
		switch state, err := strconv.Atoi(how); {
		case !given:
		case p.State != nil:
			if err != nil || state < 0 || state >= len(work.StateNames) {
				ps.Add(name, "Choose one of the list.")
			} else if state != *p.State {
				p.State, changed = &state, true
			}
		case !slices.Contains(phaseOutcomes, trial.Outcome(how)):
			ps.Add(name, "Choose one of the list.")
		case trial.Outcome(how) != p.Outcome:
			p.Outcome, changed = trial.Outcome(how), true
		}
	}
	if !changed {
		return
	}
	set["phases"] = json.RawMessage(store.JSON(phases))
	if t.State != nil && set["state"] == nil {
		highest := 0
		for _, p := range phases {
			if p.State != nil {
				highest = max(highest, *p.State)
			}
		}
		set["state"] = json.RawMessage(store.JSON(highest))
	} else if t.State == nil && set["outcome"] == nil {
		set["outcome"] = json.RawMessage(store.JSON(work.WorstOf(trial.Met, phases)))
	}
}

// words reads words with commas between.
func words(ps form.Problems, name, typed string) []string {
	list := []string{}
	for _, one := range form.Listed(typed) {
		ps.Text(name, one, criteria.MaxName)
		list = append(list, one)
	}
	if len(list) > mostErrors {
		ps.Add(name, fmt.Sprintf("At most %d.", mostErrors))
	}
	return list
}

// mostErrors is how many errors of one trial can be said.
const mostErrors = 6

// readSettings reads how the set-up of a trial really was, by dimension; changed is false where that is as it was.
func (c corrector) readSettings(ps form.Problems, t form.Typed, fields []CorrectField) (worked map[criteria.Key]float64, changed bool) {
	worked = map[criteria.Key]float64{}
	for _, one := range fields {
		if one.kind != setting {
			continue
		}
		typed, given := t[one.Name]
		if !given {
			typed = one.Value
		}
		figure, said, problem := c.units.Parse(one.of, typed)
		if problem != "" {
			ps.Add(one.Name, problem)
		}
		if said {
			worked[one.of.Key] = figure
		}
		changed = changed || strings.TrimSpace(typed) != one.Value
	}
	return worked, changed
}

// Correct amends what was logged of a trial, as events of their own: what was logged stays in the log.
func (p *Cases) Correct(ctx context.Context, session string, typed form.Typed) error {
	c, err := p.folded(ctx, session)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(c.f.Trials, func(t trial.Trial) bool { return t.ID == typed.Text("trial") && !t.Tally })
	if at < 0 {
		return app.ErrNotFound
	}
	t := &c.f.Trials[at]
	ps := form.Problems{}
	set := c.read(ps, typed, c.fields(c.block(t.Block), t))
	touched(set, t.Touch)
	rephased(ps, typed, t, set)
	c.redealt(t, set)
	c.agrees(ps, t, set)
	pays := c.repay(ps, typed, t.ID, t.Pieces, int64(math.Round(t.At*1000)))
	if err := ps.Err(); err != nil {
		return err
	}
	var drafts []logged
	if len(set) > 0 {
		drafts = append(drafts, logged{Draft: record.NewDraft(record.KAmend, record.AmendData{Target: t.ID, Set: set})})
	}
	return p.logs(ctx, session, append(drafts, pays...))
}

// agrees says so where the measures of a trial do not let it be what it is called now: a word never beats a measure upwards.
func (c corrector) agrees(ps form.Problems, t *trial.Trial, set map[string]json.RawMessage) {
	b := c.block(t.Block)
	at := progression.Index(b.Steps, t.Step)
	if set["outcome"] == nil || at < 0 || len(ps) > 0 {
		return
	}
	said := struct {
		Outcome  trial.Outcome `json:"outcome"`
		LatencyS *float64      `json:"latency_s"`
		HeldS    *float64      `json:"held_s"`

		Errors []string `json:"errors"`

		Worked map[criteria.Key]float64 `json:"worked"`
		Phases []trial.Phase            `json:"phases"`
		trial.Measures
	}{LatencyS: t.LatencyS, HeldS: t.HeldS, Errors: t.Errors, Phases: t.Phases, Measures: t.Measures}
	if json.Unmarshal([]byte(store.JSON(set)), &said) != nil {
		return // the fold leaves such a correction out
	}
	now := *t
	now.Phases = said.Phases
	now.Tapped = work.WorstOf(said.Outcome, said.Phases)
	now.LatencyS, now.HeldS, now.Errors, now.Measures = said.LatencyS, said.HeldS, said.Errors, said.Measures
	if set["worked"] != nil {
		now.Worked = said.Worked
	}
	if len(now.Phases) > 0 {
		work.AskStep(b.Phases, b.Steps[at].Criteria, &now)
	}
	_, def := c.book.Work(b.Skill, b.Definition)
	how := work.How{Timed: t.From < t.At, Released: said.Outcome.Right(), Spoils: b.Spoils}
	if judged := work.Of(b.Kind).Judge(b.Judge, def, b.Steps[at].Criteria, &now, how); judged.Outcome != said.Outcome {
		ps.Add("outcome", fmt.Sprintf("By its measures it is “%s”: correct them too.", phrase.Outcome(judged.Outcome)))
	}
}

// PutFields are what a trial that was forgotten can say, by block.
func (c corrector) putFields(b *record.Block) []CorrectField {
	return c.fields(b, &trial.Trial{Step: b.Position.Today, Outcome: trial.Met, Handler: b.Handler})
}

// Put puts in a trial that was forgotten, at a moment of the session ("m:ss" or seconds), in a block, at a step.
func (p *Cases) Put(ctx context.Context, session string, typed form.Typed) error {
	c, err := p.folded(ctx, session)
	if err != nil {
		return err
	}
	b := c.block(typed.Text("in"))
	if b == nil {
		return app.ErrNotFound
	}
	ps := form.Problems{}
	at, ok := moment(typed.Text("at"))
	if !ok || at < b.At || at > c.f.EndAt+maxAfter {
		ps.Add("at", fmt.Sprintf("A moment of the session, as m:ss, from %s on.", say.Clock(b.At)))
	}
	if progression.Index(b.Steps, typed.Text("step")) < 0 {
		ps.Add("step", "Choose one of its steps.")
	}
	set := c.read(ps, typed, c.blank(b))
	touched(set, trial.Touch{})
	set["put"], set["accepted"] = json.RawMessage("true"), json.RawMessage("true")
	set["block"], set["step"] = json.RawMessage(store.JSON(b.ID)), json.RawMessage(store.JSON(typed.Text("step")))
	id, ms := app.NewID(), int64(math.Round(at*1000))
	pays := c.repay(ps, typed, id, 0, ms)
	if err := ps.Err(); err != nil {
		return err
	}
	kind := record.KTrial
	if work.Of(b.Kind).ByState {
		kind = record.KExposure
	}
	drafts := []logged{{record.Draft{Kind: kind, Data: json.RawMessage(store.JSON(set))}, ms, id}}
	return p.logs(ctx, session, append(drafts, pays...))
}

// blank are the fields of a new trial with nothing in them, so that whatever is typed is kept.
func (c corrector) blank(b *record.Block) []CorrectField {
	fields := c.putFields(b)
	for i := range fields {
		fields[i].Value = ""
	}
	return slices.DeleteFunc(fields, func(f CorrectField) bool { return f.Name == "block" })
}

// moment reads a moment of a session's clock, s.
func moment(typed string) (s float64, ok bool) {
	minutes, rest, colon := strings.Cut(typed, ":")
	if !colon {
		minutes, rest = "0", typed
	}
	m, err := strconv.Atoi(strings.TrimSpace(minutes))
	x, err2 := strconv.ParseFloat(strings.TrimSpace(strings.Replace(rest, ",", ".", 1)), 64)
	return float64(m)*60 + x, err == nil && err2 == nil && m >= 0 && x >= 0 && (!colon || x < 60)
}

// Uncorrect takes the latest correction of a session back, with all that it changed.
func (p *Cases) Uncorrect(ctx context.Context, session string) error {
	events, err := p.Store.Read().Events(ctx, session)
	if err != nil {
		return err
	}
	var drafts []logged
	for _, e := range lastCorrection(events) {
		drafts = append(drafts, logged{Draft: record.NewDraft(record.KRetract, record.RetractData{Target: e.ID})})
	}
	if drafts == nil {
		return app.ErrNotFound
	}
	return p.logs(ctx, session, drafts)
}

// lastCorrection are the events of the latest correction that was not taken back. Those of one correction were logged at one moment of
// the wall clock; an undo takes all events of one of them back.
func lastCorrection(events []record.Event) []record.Event {
	groups, order := map[int64][]record.Event{}, []int64{}
	for _, e := range events {
		if e.Dev != reviewDevice || saysTags(e) {
			continue
		}
		if groups[e.Wall] == nil {
			order = append(order, e.Wall)
		}
		groups[e.Wall] = append(groups[e.Wall], e)
	}
	slices.Sort(order)
	var left []int64
	for _, wall := range order {
		if n := len(left); n > 0 && undoes(groups[wall], groups[left[n-1]]) {
			left = left[:n-1]
		} else {
			left = append(left, wall)
		}
	}
	if len(left) == 0 {
		return nil
	}
	return groups[left[len(left)-1]]
}

// saysTags tells whether an event is no correction but says how the session was.
func saysTags(e record.Event) bool {
	var d record.AmendData
	return e.Kind == record.KAmend && json.Unmarshal(e.Data, &d) == nil && d.Set["tags"] != nil
}

// undoes tells whether events take back all events of a correction, and nothing else.
func undoes(undo, of []record.Event) bool {
	targets := map[string]bool{}
	for _, e := range undo {
		var d record.RetractData
		if e.Kind != record.KRetract || json.Unmarshal(e.Data, &d) != nil {
			return false
		}
		targets[d.Target] = true
	}
	return len(targets) == len(of) && !slices.ContainsFunc(of, func(e record.Event) bool { return !targets[e.ID] })
}

// folded is a session as it reads now, for its corrections.
func (p *Cases) folded(ctx context.Context, session string) (c corrector, err error) {
	q := p.Store.Read()
	if _, err = q.Session(ctx, session); err != nil {
		return c, app.Found(err)
	}
	_, f, b, err := p.Fold(ctx, q, session)
	if err != nil {
		return c, err
	}
	return p.corrector(ctx, q, f, b)
}

// logged is a draft of the page's device at a moment of the session (ms); id is "" where any will do.
type logged struct {
	record.Draft
	at int64
	id string
}

// logs keeps events from the device of this page, all at one moment of the wall clock, which is later than that of any before.
func (p *Cases) logs(ctx context.Context, session string, drafts []logged) error {
	if len(drafts) == 0 {
		return nil
	}
	q := p.Store.Read()
	me, err := q.Practice(ctx)
	if err != nil {
		return err
	}
	before, err := q.Events(ctx, session)
	if err != nil {
		return err
	}
	seq, wall := int64(0), p.Ms()
	for _, e := range before {
		wall = max(wall, min(e.Wall+1, record.MaxWall)) // the last word counts, and a phone's clock may be ahead of this one
		if e.Dev == reviewDevice {
			seq = max(seq, e.Seq)
		}
	}
	events := make([]record.Event, len(drafts))
	for i, d := range drafts {
		id := d.id
		if id == "" {
			id = app.NewID()
		}
		events[i] = record.Event{
			V: record.Version, ID: id, Session: session, Dev: reviewDevice, Seq: seq + int64(i) + 1, T: d.at, Wall: wall,
			By: me.By, Handler: me.Person, Kind: d.Kind, Data: d.Data,
		}
	}
	receipts, err := p.Receive(ctx, events)
	for _, r := range receipts {
		if err == nil && r.Result == derive.Refused {
			err = fmt.Errorf("a correction was refused: %s", r.Why)
		}
	}
	return err
}

// End closes a session that was left open, with its reason.
func (p *Cases) End(ctx context.Context, session string, typed form.Typed) error {
	c, err := p.folded(ctx, session)
	if err != nil {
		return err
	}
	if c.f.Ended != nil {
		return nil
	}
	reason := typed.Text("reason")
	if !slices.ContainsFunc(EndReasons, func(o app.Named) bool { return o.ID == reason }) {
		return &form.Invalid{Problems: map[string]string{"reason": "Choose one of the list."}}
	}
	return p.logs(ctx, session, []logged{{record.NewDraft(record.KEnd, record.EndData{Reason: reason}), int64(c.f.EndAt * 1000), ""}})
}

// EndReasons are why a session can have ended.
var EndReasons = []app.Named{
	{ID: "done", Name: "Done, on a success"}, {ID: "time", Name: "Time gone"}, {ID: "food", Name: "Food gone"},
	{ID: "weather", Name: "Weather or disturbance"}, {ID: "stop", Name: "It fell apart: stop"}, {ID: "other", Name: "Something else"},
}
