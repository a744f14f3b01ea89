package session

import (
	"encoding/json"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// Kind is the kind of work of the running block.
func (r *Run) Kind() *work.Work { return work.Of(r.pack.Kind) }

// Moment is what the board of the kind is asked about.
func (r *Run) Moment(at float64) *work.Moment {
	c := r.OnCard(r.step().Criteria)
	limit, _ := r.pack.Definition.Limit(c)
	return &work.Moment{
		At: at, Criteria: c, Seconds: r.Seconds(), Limit: limit, Paces: r.Paces(), Trial: r.s.Trying, Closed: len(r.s.Trials),
		Taut: r.s.Taut != nil, Site: r.Site(), OnLine: r.fetches() && r.onLine(),
	}
}

// Seconds is how long the trial under way is to last, 0 where it has no such measure.
func (r *Run) Seconds() float64 {
	c := r.Ahead().Criteria
	if target, varied := r.Target()[criteria.Duration]; varied {
		return target
	}
	return r.Kind().Seconds(r.OnCard(c))
}

// Paces is how many make the trial, 0 where they are not counted.
func (r *Run) Paces() int {
	if target, varied := r.Target()[criteria.Paces]; varied && r.Kind().Walks {
		return int(target)
	}
	return r.Kind().Paces(r.Ahead().Criteria)
}

// shapes tells whether trials are offers of approximations from a list.
func (r *Run) shapes() bool {
	return r.Kind().Offers(r.step().Criteria)
}

// Worried is the last exposure of this block while the dog is not itself again after it.
func (r *Run) Worried() *trial.Trial {
	b := r.Block()
	if b == nil || r.s.Trying != nil {
		return nil
	}
	for i := len(r.s.Trials) - 1; i >= 0; i-- {
		if t := &r.s.Trials[i]; t.Block == b.ID {
			if t.State != nil && *t.State >= 2 && t.RecoveryS == nil {
				return t
			}
			return nil
		}
	}
	return nil
}

// starts begins a trial, with what going on means for a verdict that waits.
func (r *Run) starts(first ...record.Draft) []record.Draft {
	if tries := r.tries(); tries != nil {
		return append(tries, first...)
	}
	if other, due := r.otherStep(); due {
		drafts := []record.Draft{record.NewDraft(record.KMove, record.MoveData{From: r.today().ID, To: other, Why: progression.WhyTurn})}
		if r.now.Due && !r.now.Answered {
			drafts = append([]record.Draft{r.verdict(string(decision.Repeat))}, drafts...)
		}
		return append(drafts, first...)
	}
	if r.counting() {
		return append(r.take(), first...)
	}
	// Going on after a repeat is taking it: it needs no press.
	if r.now.Due && !r.now.Answered {
		return append([]record.Draft{r.verdict(string(decision.Repeat))}, first...)
	}
	return first
}

// onset is the stimulus that begins an exposure: planned as the step says, at the site that is chosen.
func (r *Run) onset(touch trial.Touch) record.Draft {
	d := record.TriggerData{On: true}
	if c := r.step().Criteria; c.Has(criteria.Trigger) {
		m := c.Get(criteria.Trigger)
		d.M, d.How = &m, "planned"
	}
	if r.Kind().HandsOn {
		d.Touch = r.touches(touch)
	}
	return record.NewDraft(record.KTrigger, d)
}

func counted(what string) record.Draft {
	return record.NewDraft(record.KCount, record.CountData{What: what, N: 1})
}

// idle is the large key's meaning between trials.
func (r *Run) idle(at float64) []record.Draft {
	switch {
	case r.s.Away != nil:
		return []record.Draft{counted(trial.CameBack)}
	case r.s.Taut != nil:
		return []record.Draft{record.NewDraft(record.KLine, record.LineData{})}
	case r.Decoyed():
		return r.decoy(r.NextMove())
	}
	return r.does(r.Kind().Start(r.Moment(at)), at)
}

// does makes the events of what a press means for the kind of work.
func (r *Run) does(acts []work.Act, at float64) (drafts []record.Draft) {
	for i, one := range acts {
		made := r.do(one, at)
		if begins := one.Do == work.Cue || one.Do == work.Stimulus; begins && i == 0 && r.s.Trying == nil {
			made = r.starts(made...)
		}
		drafts = append(drafts, made...)
	}
	return drafts
}

func (r *Run) do(a work.Act, at float64) []record.Draft {
	one := func(kind record.Kind, data any) []record.Draft { return []record.Draft{record.NewDraft(kind, data)} }
	switch a.Do {
	case work.Cue:
		return one(record.KCue, record.CueData{N: 1})
	case work.Stimulus:
		return []record.Draft{r.onset(a.Touch)}
	case work.Distraction:
		return one(record.KTrigger, record.TriggerData{On: true})
	case work.Away:
		return one(record.KTrigger, record.TriggerData{})
	case work.Count:
		return []record.Draft{counted(a.What)}
	case work.Reward:
		if r.Doing() == record.Baseline {
			return nil
		}
		return r.pays(Earned{Pay: true})
	case work.Pay:
		return r.pays(Earned{Pay: true})
	case work.Taut:
		return one(record.KLine, record.LineData{Taut: true})
	case work.Expose:
		return r.exposure(a.State, a.Touch)
	case work.Offers:
		return r.offer(a.Item)
	case work.Answered:
		return one(record.KMark, struct{}{})
	}
	return r.outcome(a.Outcome, at)
}

// offer logs an approximation that the dog offered; one as near as asked, or nearer, is marked and paid.
func (r *Run) offer(i int) []record.Draft {
	_, at := work.Approximations(r.step().Criteria)
	closes := record.TrialData{Asked: r.Target(), Easy: r.Finishing(), Worked: r.asWorked()}
	closes.Offered = &i
	var drafts []record.Draft
	if r.s.Trying == nil {
		drafts = r.starts()
	}
	if i >= at {
		drafts = append(drafts, record.NewDraft(record.KMark, struct{}{}))
	}
	drafts = append(drafts, record.NewDraft(record.KTrial, closes))
	if e := r.Earns(0, closes.Easy); i >= at && e.Pay {
		drafts = append(drafts, r.pays(e)...)
	}
	return drafts
}

// own answers the keys that only some kinds of work have.
func (r *Run) own(key work.Key, at float64) []record.Draft {
	if name, is := strings.CutPrefix(string(key), Instead); is {
		return r.Tell("instead", name)
	}
	if one, is := beside[key]; is {
		return one.does(r, at)
	}
	if choose, is := chooses[key]; is {
		choose(r)
		return nil
	}
	switch key {
	case work.AcceptKey:
		return r.accept()
	case work.AlternateKey:
		return r.alternate()
	case work.SwapKey:
		return r.swap(r.OtherDog())
	case work.ReturnKey:
		return r.swap(r.s.Before(r.Block()))
	case work.LeftKey:
		if r.s.Away != nil {
			return []record.Draft{counted(trial.CameBack)}
		}
		return []record.Draft{counted(trial.Left)}
	case work.ItselfKey:
		return []record.Draft{record.NewDraft(record.KState, record.StateData{State: 1})}
	case work.RecoverKey:
		begins := record.NewDraft(record.KRecover, record.RecoverData{What: record.Distance})
		if r.s.Trying != nil { // a trial that is broken off for it does not count
			return []record.Draft{record.NewDraft(record.KTrial, record.TrialData{Outcome: trial.Void}), begins}
		}
		return []record.Draft{begins}
	case work.FinishKey:
		place, steps := r.Position()
		var drafts []record.Draft
		if r.now.Due && !r.now.Answered {
			drafts = append(drafts, r.verdict(r.leftAs()))
		}
		to := steps[r.finishStep(place, steps)].ID
		return append(drafts, record.NewDraft(record.KMove, record.MoveData{From: place.Today, To: to, Why: progression.WhyFinish}))
	case work.SlowKey, work.RefusedKey:
		return r.Tell("taken", string(key))
	case work.GrowlKey:
		return []record.Draft{counted(trial.Growl)}
	case work.EarlyKey:
		return r.outcome(trial.Missed, at, trial.WentEarly)
	case work.MarkedKey:
		return r.marks()
	}
	if i, err := strconv.Atoi(strings.TrimPrefix(string(key), string(work.Noted))); err == nil && i >= 0 && i < len(work.StateNames) {
		return []record.Draft{record.NewDraft(record.KState, record.StateData{State: i})}
	}
	if i, err := strconv.Atoi(strings.TrimPrefix(string(key), string(work.Offered))); err == nil {
		return r.offer(i)
	}
	return r.does(r.Kind().Own(key, r.Moment(at)), at)
}

// OverThreshold tells whether this plan's work went over the dog's threshold in this session, or the dog growled or snapped in it, in
// whatever block: then it is left, without a last trial and without a way back to it today.
func (r *Run) OverThreshold() bool {
	b := r.Block()
	if b == nil {
		return false
	}
	for i := range r.s.Trials { // a trial is large, and this is asked on every press
		if t := &r.s.Trials[i]; t.State != nil && *t.State == 4 && r.s.PlanOf(t.Block) == b.Plan {
			return true
		}
	}
	return r.Warned()
}

// Warned tells whether the dog growled or snapped in this plan's work, or was noted over threshold: nothing asked the rule about it, so
// no verdict says to leave.
func (r *Run) Warned() bool {
	b := r.Block()
	return b != nil && (r.noted() == 4 || slices.ContainsFunc(r.s.Growls, func(g record.Growl) bool { return r.s.PlanOf(g.Block) == b.Plan }))
}

// noted is the state that was noted last in this block, −1 where none was.
func (r *Run) noted() int {
	state := -1
	for _, one := range r.s.States {
		if b := r.Block(); b != nil && one.At >= b.At {
			state = one.State
		}
	}
	return state
}

// Troubled tells whether the dog is worried, by its last exposure or by the state that was noted last, and has not recovered since.
func (r *Run) Troubled() bool {
	back := -1.0
	for _, m := range r.s.Recovers {
		if m.What == record.GoesOn {
			back = m.At
		}
	}
	if w := r.Worried(); w != nil && *w.State >= 3 && w.At > back {
		return true
	}
	for i := len(r.s.States) - 1; i >= 0; i-- {
		if one := r.s.States[i]; r.Block() != nil && one.At >= r.Block().At {
			return one.State >= 3 && one.At > back
		}
	}
	return false
}

// meansOwn tells whether one of those keys means anything now.
func (r *Run) meansOwn(key work.Key, phase Phase) bool {
	if one, is := beside[key]; is {
		return one.means(r, phase)
	}
	idle, trying := phase == Idle, phase == Trying
	switch key {
	case work.AlternateKey:
		_, on := r.Alternating()
		return (idle || phase == Deciding) && r.Doing() == record.Train && (on || r.StepBy(-1) != nil && !r.Mixed() && !r.Kind().ByState)
	case work.SwapKey:
		return (idle || phase == Deciding) && r.OtherDog() != nil
	case work.ReturnKey:
		_, of := r.Interlude()
		return (idle || phase == Deciding) && of > 0 && r.s.Before(r.Block()) != nil
	case work.AcceptKey:
		return (idle || phase == Deciding) && len(r.Unaccepted()) > 0
	case work.DoneKey: // nothing is in a rehearsal, whoever handles
		return idle && r.Kind().HandsOn && r.Doing() != record.Rehearsal
	case work.RoundKey:
		return idle && r.Visits()
	case work.ToolKey:
		_, steps := r.Position()
		return idle && r.Kind().HandsOn && len(progression.Tools(steps)) > 1
	case work.SiteKey:
		d, _ := r.today().Criteria.Dimension(criteria.Site)
		return idle && r.Kind().HandsOn && len(d.Items) > 1
	case work.LeftKey:
		return idle || phase == Deciding
	case work.ItselfKey:
		return (idle || phase == Deciding) && r.Worried() != nil
	case work.RecoverKey:
		return (idle || trying || phase == Deciding) && !r.OverThreshold()
	case work.NoAnswerKey, work.HomeKey:
		return phase == Recovering
	case work.FinishKey:
		return (idle || phase == Deciding) && r.StepBy(-1) != nil && !r.Finishing() && !r.OverThreshold()
	case work.GrowlKey:
		return phase != Over && phase != Setup
	case work.EarlyKey:
		return (idle || trying) && r.Kind().Asks() && !r.Stopped()
	case work.MarkedKey:
		return (idle || phase == Deciding) && r.smaller()
	case work.SlowKey, work.RefusedKey:
		return len(r.s.Pays) > 0 && phase != Over && phase != Setup
	}
	if strings.HasPrefix(string(key), string(work.Noted)) {
		return !r.Kind().ByState && (idle || trying || phase == Deciding)
	}
	if strings.HasPrefix(string(key), Instead) {
		return idle && len(r.Others()) > 0
	}
	if strings.HasPrefix(string(key), string(work.Offered)) {
		return r.shapes() && (trying || idle && !r.step().Criteria.Has(criteria.Duration))
	}
	return (idle || trying) && len(r.Kind().Own(key, r.Moment(0))) > 0
}

// Tell says more of the last trial, or of the last pay: what broke it, what the dog did instead, where the error came
// from, what was done after it, how the food was taken.
func (r *Run) Tell(what, value string) []record.Draft {
	target := ""
	switch what {
	case "taken", "where":
		for _, p := range r.s.Pays {
			target = p.ID
		}
	case "broke", "instead", "source", "after":
		if t := r.LastTrial(); t != nil && t.State == nil {
			target = t.ID
		}
	}
	if target == "" {
		return nil
	}
	set := map[string]json.RawMessage{what: encode(value)}
	return []record.Draft{record.NewDraft(record.KAmend, record.AmendData{Target: target, Set: set})}
}

// LastTrial is the one that was closed last, of the block that is worked or of one mixed with it: in a mixed block the work
// has gone to the next skill by the time that somebody says more of a trial. Nil while none was closed.
func (r *Run) LastTrial() *trial.Trial {
	b := r.Block()
	for i := len(r.s.Trials) - 1; i >= 0 && b != nil; i-- {
		t := &r.s.Trials[i]
		if t.Waits {
			continue // a helper's
		}
		if r.SameWork(t.Block) {
			return t
		}
		break
	}
	return nil
}
