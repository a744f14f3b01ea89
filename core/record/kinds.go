package record

import (
	"slices"

	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// begins makes sure that a trial is under way.
func (f *folder) begins() {
	if f.tries != nil {
		return
	}
	f.tries = &trial.UnderWay{From: f.at, Hand: f.s.Food}
	if f.last > 0 && f.s.Trials[f.last-1].Shown() >= 2 && f.s.Trials[f.last-1].RecoveryS == nil {
		f.waited(f.s.Trials[f.last-1].At) // nobody said when it was itself again
	}
}

// count reads what is counted within a trial or beside the trials.
func (f *folder) count(e placed, d *CountData) {
	b, o, n := f.block, f.tries, max(1, d.N)
	if b == nil {
		return
	}
	at := f.at
	switch d.What {
	case trial.Offer:
		b.Offers += n
	case trial.PaceMade:
		if o != nil {
			o.Counted.Paces += n
		}
	case trial.Pull:
		b.Pulls += n
		if o != nil {
			o.Counted.Pulls += n
		}
	case trial.CheckIn:
		b.CheckIns += n
		if o == nil {
			return
		}
		o.Counted.CheckIns += n
		if o.Looked == nil {
			o.Looked = &at
		}
		if o.Thrown != nil && o.Counted.ReturnS == nil {
			back := at - *o.Thrown
			o.Counted.ReturnS = &back
		}
	case trial.Throw:
		if o != nil {
			o.Thrown, o.Counted.ReturnS = &at, nil
		}
	case trial.Left:
		if f.s.Away == nil {
			b.Leaves++
			f.s.Away = &at
		}
	case trial.CameBack:
		f.comes()
	case trial.Growl:
		f.s.Growls = append(f.s.Growls, Growl{e.ID, b.ID, f.at})
	case trial.Position:
		f.position()
	case trial.Withheld:
		b.Withheld += n
		f.s.Withheld = append(f.s.Withheld, Withheld{e.ID, b.ID, f.at})
	}
}

// warmup reads one part of a readiness test, or one try of a warm-up: a retracted answer leaves what was given.
func (f *folder) warmup(e placed, d *WarmupData) {
	if d.Given {
		at := f.at
		f.s.WarmGiven = &at
		return
	}
	f.s.Warm = append(f.s.Warm, Warmup{e.ID, d.Answer, f.at, d.Part, d.S, d.Ticks})
	f.s.WarmGiven = nil
}

// help counts a prompt of the trial under way.
func (f *folder) help(d *HelpData) {
	o := f.tries
	if o == nil {
		return
	}
	o.Prompts++
	if d.How != "" {
		o.Prompt = d.How
	}
	o.Helped, o.Assisted = o.Helped || !d.Planned, o.Assisted || d.Planned
}

// phase ends one part of the trial under way.
func (f *folder) phase(d *PhaseData) {
	o := f.tries
	if o == nil || len(o.Phases)+1 >= len(f.block.Phases) {
		return // the last part is ended by the trial
	}
	p := f.block.Phases[len(o.Phases)]
	from := o.PhaseAt
	if len(o.Phases) == 0 {
		from = o.From
	}
	o.Phases = append(o.Phases, trial.Phase{Name: p.Name, Asked: p.Seconds, S: f.at - from, Outcome: d.Outcome, State: d.State})
	o.PhaseAt = f.at
	if at := f.at; o.Mark == nil {
		o.Mark = &at // the first was the answer
	}
}

// phases puts the parts of a trial together as it closes: the part that was under way ends with it, and the trial is as its worst part. An
// exposure takes the highest state. What was corrected wins.
func (f *folder) phases(t *trial.Trial, o *trial.UnderWay, c criteria.Criteria, corrected []trial.Phase) {
	planned := f.block.Phases
	if len(planned) == 0 {
		return
	}
	if t.Phases = slices.Clone(corrected); corrected == nil {
		from := o.PhaseAt
		if len(o.Phases) == 0 {
			from = o.From
		}
		p := planned[min(len(o.Phases), len(planned)-1)]
		t.Phases = append(slices.Clone(o.Phases), trial.Phase{
			Name: p.Name, Asked: p.Seconds, S: f.at - from, Outcome: t.Tapped, State: t.State,
		})
	}
	work.AskStep(planned, c, t)
	if t.State == nil {
		t.Tapped = work.WorstOf(t.Tapped, t.Phases)
		return
	}
	highest := *t.State
	for _, one := range o.Phases {
		if one.State != nil && corrected == nil {
			highest = max(highest, *one.State)
		}
	}
	t.State = &highest
}

// position ends the wait after a miss: the dog is in position again, by itself.
func (f *folder) position() {
	if f.last == 0 || f.tries != nil {
		return
	}
	t := &f.s.Trials[f.last-1]
	if t.State == nil && t.Outcome == trial.Missed && t.RecoveryS == nil {
		took := f.at - t.At
		t.RecoveryS = &took
		f.waited(t.At)
	}
}

// comes ends the dog's being away.
func (f *folder) comes() {
	if f.s.Away != nil {
		f.block.AwayS += f.at - *f.s.Away
		f.waited(*f.s.Away)
		f.s.Away = nil
	}
}

// trigger reads a stimulus or a distraction that comes or goes. Where the stimulus is the work it begins the trial.
func (f *folder) trigger(e placed, d *TriggerData) {
	b, at := f.block, f.at
	if b == nil {
		f.flag(e, "no_block")
		return
	}
	kind := work.Of(b.Kind)
	if !kind.Stimulus {
		return // a distraction beside the work: it is in the log
	}
	if d.On {
		early := kind.Pairs && f.tries == nil && f.fedFirst()
		f.begins()
		f.tries.FedFirst = f.tries.FedFirst || early
		f.tries.Touch = d.Touch
		if f.tries.Out == nil {
			f.tries.Out = &at
		}
	} else if o := f.tries; o != nil && o.Out != nil && o.Counted.OutS == nil {
		out := at - *o.Out
		o.Counted.OutS = &out
	}
}

// line reads the line between hand and dog: how long it took until it was slack again belongs to the trial before.
func (f *folder) line(d *LineData) {
	at := f.at
	if d.Taut {
		if f.s.Taut == nil {
			f.s.Taut = &at
		}
		return
	}
	if f.s.Taut == nil {
		return
	}
	slack := at - *f.s.Taut
	f.waited(*f.s.Taut)
	f.s.Taut = nil
	if f.last > 0 && f.s.Trials[f.last-1].SlackS == nil {
		f.s.Trials[f.last-1].SlackS = &slack
	}
}

// calms reads a state that was noted: the first that is at ease after a worried exposure is its recovery.
func (f *folder) calms(state int) {
	if f.last == 0 || state > 1 {
		return
	}
	t := &f.s.Trials[f.last-1]
	if t.State != nil && *t.State > 1 && t.RecoveryS == nil {
		took := f.at - t.At
		t.RecoveryS = &took
		f.waited(t.At)
	}
}

// recovers reads a move of the way back from too much.
func (f *folder) recovers(e placed, d *RecoverData) {
	switch {
	case d.What == Distance && f.recovery == nil:
		at := f.at
		f.recovery = &at
	case (d.What == GoesOn || d.What == GoesHome) && f.recovery != nil:
		f.waited(*f.recovery)
		f.recovery = nil
	}
	f.s.Recovers = append(f.s.Recovers, Recovery{e.ID, d.What, f.at})
}

// waited notes a wait from a moment until now.
func (f *folder) waited(from float64) {
	f.s.Waits = append(f.s.Waits, reinforce.Span{From: from, To: f.at})
}

// turn goes on with a block that was begun before.
func (f *folder) turn(e placed, d *TurnData) {
	for _, b := range f.s.Blocks {
		if b.ID != d.Block {
			continue
		}
		if b == f.block {
			return
		}
		f.drop(e)
		f.block.left = f.at
		b.Rests = append(b.Rests, reinforce.Span{From: b.left, To: f.at})
		f.block, f.s.At, f.last = b, b, 0
		if place, going := f.places[b.Line()]; going {
			b.Position = place
		}
		for i := range f.s.Trials {
			if f.s.Trials[i].Block == b.ID {
				f.last = i + 1
			}
		}
		f.s.Turns = append(f.s.Turns, Turn{b.ID, f.at})
		return
	}
	f.flag(e, "no_block")
}

// Turn is one turn: which block goes on from then.
type Turn struct {
	Block string
	At    float64
}

// today is the index of the step that is worked, flagged where there is no block or no such step.
func (f *folder) today(e placed) (at int, ok bool) {
	if f.block == nil {
		f.flag(e, "no_block")
		return 0, false
	}
	at = progression.Index(f.block.Steps, f.block.Position.Today)
	if at < 0 {
		f.flag(e, "unknown_step")
	}
	return at, at >= 0
}

// fedWithin is how long before a stimulus food came first, s.
const fedWithin = 10

// fedFirst tells whether food came just before the stimulus that begins now: nearer to it than to the end of the exposure
// before, and within fedWithin. The order is stimulus, then food.
func (f *folder) fedFirst() bool {
	if len(f.s.Pays) == 0 {
		return false
	}
	pay := f.s.Pays[len(f.s.Pays)-1]
	before := f.at - pay.At
	if pay.Block != f.block.ID || before > fedWithin || pay.Apart {
		return false
	}
	for i := len(f.s.Trials) - 1; i >= 0; i-- {
		if t := f.s.Trials[i]; t.Block == f.block.ID {
			return before < pay.At-t.At
		}
	}
	return true
}

// exposure closes a trial that has a state. At ease (0 or 1) reads as met wherever outcomes are counted,
// anything else as missed; rules of calm read the state itself.
func (f *folder) exposure(e placed, d *ExposureData) {
	if f.block != nil {
		defer f.elsewhere(d.Elsewhere)()
	}
	if _, ok := f.today(e); !ok {
		return
	}
	o := f.tries
	if e.Dev != f.pen || d.Put {
		o = nil
	}
	touch := d.Touch
	if o != nil {
		touch = o.Touch.With(touch)
	}
	if d.Touched != nil {
		touch = *d.Touched
	}
	at, apart := f.cellAt(f.stepAt(d.Elsewhere), touch)
	state := d.State
	t := f.trialOf(e, d.Elsewhere)
	t.Step, t.Rev, t.State = f.block.Steps[at].ID, f.block.Steps[at].Rev, &state
	t.Easy, t.Touch, t.RecoveryS, t.Worked, t.Mistake = d.Easy, touch, d.RecoveryS, d.Worked, d.Mistake
	t.Waits, t.Amended = e.Dev != f.pen && !d.Accepted, correctedExposure(e.entry.data, d)
	var pays []int
	if o != nil {
		t.Hand = o.Hand
		held := f.at - o.From
		t.From, t.HeldS, t.Cues, t.FedFirst = o.From, &held, o.Cues, o.FedFirst
		f.phases(&t, o, f.block.Steps[at].Criteria, d.Phases)
		pays = f.closes()
	}
	if d.HeldS != nil {
		t.HeldS = d.HeldS
	}
	f.judge(&t, at, work.How{})
	t.Easy, t.Above = t.Easy || apart, t.Above || apart
	f.add(t, pays)
}

// cellOf is what the step of a touch is looked up by: a visit has few sites and many touches.
type cellOf struct {
	ladder     *progression.Step
	steps, at  int
	site, tool string
}

// cellAt is the step that a touch is of: the one at an index, or another of the ladder where that asks for its site and its tool. Apart
// tells that none does.
func (f *folder) cellAt(at int, touch trial.Touch) (step int, apart bool) {
	if !touch.Cell || touch.Site == "" { // a ladder without sites: a muzzle, a bath
		return at, false
	}
	from := at
	if touch.Eased {
		from = 0
	}
	asked := cellOf{&f.block.Steps[0], len(f.block.Steps), from, touch.Site, touch.Tool}
	to, known := f.cells[asked]
	if !known {
		to = progression.CellAt(f.block.Steps, from, touch.Site, touch.Tool)
		f.cells[asked] = to
	}
	if to < 0 {
		return at, true
	}
	return to, false
}

// judge says what a trial counts as, at the step of an index.
func (f *folder) judge(t *trial.Trial, at int, how work.How) {
	kind, step := work.Of(f.block.Kind), f.block.Steps[at]
	if at > 0 {
		how.Below = &f.block.Steps[at-1].Criteria
	}
	how.Spoils = f.block.Spoils
	_, def := f.book.Work(f.block.Skill, f.block.Definition)
	judged := kind.Judge(f.block.Judge, def, step.Criteria, t, how)
	t.Judge, t.Outcome, t.Easy, t.Unmeasured = f.block.Judge, judged.Outcome, t.Easy || judged.Easy, judged.Unmeasured
	t.Assisted, t.Above = judged.Assisted, judged.Above
	if t.Prompts == 0 && t.Outcome == trial.Helped && t.Broke != trial.ByLine && f.block.Judge >= 2 {
		t.Prompts = 1
	}
	t.Slow, t.Again = work.LateBy(def, step.Criteria, t)
	t.AfterCue = f.block.Judge >= 2 && t.Outcome == trial.Void && how.Timed
}

// measure fills in what the cue, mark and release events say and the trial itself does not: every measure that the step names.
// A block of the first judgement takes those of its kind of work alone.
func (f *folder) measure(t *trial.Trial, o *trial.UnderWay, c criteria.Criteria) {
	if t.Cues == 0 {
		t.Cues = o.Cues
	}
	o.Measured(&t.Measures, f.at)
	kind := work.Of(f.block.Kind)
	_, def := f.book.Work(f.block.Skill, f.block.Definition)
	named := f.block.Judge >= 2
	if (kind.Keeps || named && (c.Has(criteria.Duration) || kind.Minutes)) && t.HeldS == nil {
		from, end := o.From, f.at
		if o.Released != nil {
			end = *o.Released
		}
		if named && kind.Answers && o.Mark != nil {
			from = *o.Mark // what is held begins with the answer
		}
		held := max(0, end-from)
		t.HeldS = &held
	}
	responded := o.Mark != nil || t.Tapped == trial.Late || t.Tapped == trial.Helped
	_, limited := def.Limit(c)
	if named && kind.Minutes {
		responded = o.Looked != nil
	}
	limited = limited || c.Get(criteria.HelpAfter) > 0 // whether it came before the help
	if (kind.Answers || named && limited) && t.LatencyS == nil && responded {
		from, end := o.From, f.at
		if def.TimedFrom == "end" && o.CueEnd != nil {
			from = *o.CueEnd
		}
		switch {
		case named && kind.Minutes:
			end = *o.Looked
		case o.Mark != nil:
			end = *o.Mark
		}
		latency := max(0, end-from)
		t.LatencyS = &latency
	}
}
