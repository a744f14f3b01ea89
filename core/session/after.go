package session

import (
	"cmp"
	"encoding/json"
	"math"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// Said is the trial of which more can be said by a key now: the one that was closed last, until the next begins. Nil while there is none.
func (r *Run) Said() *trial.Trial {
	phase := r.Phase()
	if phase != Idle && phase != Deciding || r.s.Trying != nil {
		return nil
	}
	if t := r.LastTrial(); t != nil && !t.Tally && t.Outcome != trial.Void {
		return t
	}
	return nil
}

// Errors are those that a plan names, for the trial that was closed last; none in a mixed block, where the other skills are the errors. A
// dog without a toy ignores none.
func (r *Run) Errors() []work.Error {
	t := r.Said()
	if t == nil || t.State != nil || r.mixesSkills() {
		return nil
	}
	toy := func(one reinforce.Reward) bool { return one.Kind == reinforce.Toy }
	if slices.ContainsFunc(r.pack.Foods, toy) {
		return r.pack.Errors
	}
	return slices.DeleteFunc(slices.Clone(r.pack.Errors), func(e work.Error) bool { return e.Name == work.ToyIgnored })
}

// PromptKinds are the kinds of help that the trial which was closed last can have had; none where it had none.
func (r *Run) PromptKinds() []string {
	t := r.Said()
	if t == nil || t.Prompts == 0 || t.State != nil {
		return nil
	}
	planned := work.PlannedHelp(r.step().Criteria)
	if planned == "" || slices.Contains(work.Prompts, planned) {
		return work.Prompts
	}
	return append([]string{planned}, work.Prompts...)
}

// Reasons are why the last pay can have been made, where it was a jackpot or for something else and nobody has said so yet.
func (r *Run) Reasons() []string {
	switch pay := r.Unreasoned(); {
	case pay == nil:
		return nil
	case pay.Jackpot:
		return work.JackpotReasons
	}
	return work.OtherReasons
}

// says tells whether a key that says more of the last trial means anything now; known is false for other keys.
func (r *Run) says(key work.Key) (means, known bool) {
	t := r.Said()
	switch key {
	case work.MistakeKey:
		return t != nil, true
	case work.ResetKey:
		return t != nil && t.State == nil && t.Outcome != trial.Met, true
	case work.PositionKey:
		return t != nil && t.State == nil && t.Outcome == trial.Missed && t.RecoveryS == nil && r.s.Taut == nil && r.s.Away == nil, true
	}
	if name, is := strings.CutPrefix(string(key), string(work.ErrorOf)); is {
		return slices.ContainsFunc(r.Errors(), func(e work.Error) bool { return e.Name == name }), true
	}
	if kind, is := strings.CutPrefix(string(key), string(work.PromptOf)); is {
		return slices.Contains(r.PromptKinds(), kind), true
	}
	if reaction, is := strings.CutPrefix(string(key), string(work.ReactsTo)); is {
		return r.Unreacted() != nil && slices.Contains(work.Reactions, reaction), true
	}
	if tick, is := strings.CutPrefix(string(key), string(work.TickOf)); is {
		_, _, ok := r.Ticked()
		return ok && slices.Contains(r.pack.Engaged, tick), true
	}
	if reason, is := strings.CutPrefix(string(key), string(work.ReasonOf)); is {
		return slices.Contains(r.Reasons(), reason), true
	}
	if kind, is := strings.CutPrefix(string(key), string(work.MistakeOf)); is {
		return t != nil && t.Mistake != "" && slices.Contains(work.Mistakes, kind), true
	}
	if level, is := strings.CutPrefix(string(key), string(work.ArousalOf)); is {
		phase := r.Phase()
		works := phase == Idle || phase == Trying || phase == Deciding || phase == Recovering
		return works && (level == "0" || level == "1" || level == "2"), true
	}
	return false, false
}

// say answers a key that says more of the last trial: pressed again, what it said is not said any more.
func (r *Run) say(key work.Key) (drafts []record.Draft, known bool) {
	if level, is := strings.CutPrefix(string(key), string(work.ArousalOf)); is {
		n, _ := strconv.Atoi(level) // says has looked at it
		return []record.Draft{record.NewDraft(record.KArousal, record.ArousalData{Level: n})}, true
	}
	if reaction, is := strings.CutPrefix(string(key), string(work.ReactsTo)); is {
		set := map[string]json.RawMessage{"reaction": encode(reaction)}
		return []record.Draft{record.NewDraft(record.KAmend, record.AmendData{Target: r.Unreacted().ID, Set: set})}, true
	}
	if tick, is := strings.CutPrefix(string(key), string(work.TickOf)); is {
		of, ticks, _ := r.Ticked()
		set := map[string]json.RawMessage{"ticks": encode(toggled(ticks, tick))}
		return []record.Draft{record.NewDraft(record.KAmend, record.AmendData{Target: of, Set: set})}, true
	}
	if reason, is := strings.CutPrefix(string(key), string(work.ReasonOf)); is {
		set := map[string]json.RawMessage{"reason": encode(reason)}
		return []record.Draft{record.NewDraft(record.KAmend, record.AmendData{Target: r.Unreasoned().ID, Set: set})}, true
	}
	t := r.Said()
	if t == nil {
		return nil, false
	}
	tell := func(set map[string]json.RawMessage) ([]record.Draft, bool) {
		return []record.Draft{record.NewDraft(record.KAmend, record.AmendData{Target: t.ID, Set: set})}, true
	}
	switch key {
	case work.PositionKey:
		return []record.Draft{counted(trial.Position)}, true
	case work.ResetKey:
		after := work.WasReset
		if t.After == after {
			after = ""
		}
		return tell(map[string]json.RawMessage{"after": encode(after)})
	case work.MistakeKey:
		if t.Mistake != "" {
			return tell(r.mistaken(t, ""))
		}
		return tell(r.mistaken(t, work.MistakeNotSaid))
	}
	if name, is := strings.CutPrefix(string(key), string(work.ErrorOf)); is {
		return tell(map[string]json.RawMessage{"errors": encode(toggled(t.Errors, name))})
	}
	if kind, is := strings.CutPrefix(string(key), string(work.PromptOf)); is {
		return tell(map[string]json.RawMessage{"prompt": encode(kind)})
	}
	if kind, is := strings.CutPrefix(string(key), string(work.MistakeOf)); is {
		return tell(r.mistaken(t, kind))
	}
	return nil, false
}

// toggled is a list with a word that it had not, or without one that it had.
func toggled(list []string, word string) []string {
	without := slices.DeleteFunc(slices.Clone(list), func(one string) bool { return one == word })
	if len(without) == len(list) {
		without = append(without, word)
	}
	return without
}

// Ticked is what of an engaged dog was seen: of the free minute that was closed last, or in the readiness test. of is the event that
// keeps it; ok is false where neither is.
func (r *Run) Ticked() (of string, ticks []string, ok bool) {
	if r.Phase() == Warming || r.Phase() == Deciding && r.now.Rule.Kind == ByWarmUp {
		if len(r.s.Warm) == 0 || r.TriedBefore() {
			return "", nil, false
		}
		return r.s.Warm[0].ID, r.s.Warm[0].Ticks, true
	}
	if t := r.Said(); t != nil && r.Kind().Minutes {
		return t.ID, t.Ticks, true
	}
	return "", nil, false
}

// mistaken is what is set of a trial with a mistake of the handler's: where the trial was not met, the error came from there, unless
// somebody said otherwise.
func (r *Run) mistaken(t *trial.Trial, mistake string) map[string]json.RawMessage {
	set := map[string]json.RawMessage{"mistake": encode(mistake)}
	const handler = "handler"
	if t.State == nil && t.Outcome != trial.Met && cmp.Or(t.Source, handler) == handler {
		source := handler
		if mistake == "" {
			source = ""
		}
		set["source"] = encode(source)
	}
	return set
}

// prompts counts one more prompt of the trial under way. Help that the step plans is planned once the pause is over that the dog gets
// before it.
func (r *Run) prompts(at float64) []record.Draft {
	c := r.Ahead().Criteria
	how := work.PlannedHelp(c)
	if how == "" && r.fetches() && r.onLine() {
		how = work.TheLine
	}
	pause, pauses := work.PauseForHelp(c)
	return []record.Draft{record.NewDraft(record.KHelp, record.HelpData{
		How: how, Planned: pauses && at-r.s.Trying.From >= pause-evidence.Epsilon,
	})}
}

// resets counts the trials of the running set after which the dog was put back to where it began.
func (r *Run) resets() (n int) {
	b := r.Block()
	if b == nil {
		return 0
	}
	size := r.now.Rule.Size
	if size == 0 {
		size = setWithout
	}
	in := 0
	for i := range r.s.Trials {
		t := &r.s.Trials[i]
		if t.Block != b.ID || t.Outcome == trial.Void || t.Waits {
			continue
		}
		if t.Step != b.Position.Today || in == size {
			in, n = 0, 0
		}
		if t.Step != b.Position.Today {
			continue
		}
		in++
		if t.After == work.WasReset {
			n++
		}
	}
	return n
}

// setWithout is how many trials are looked at as a set where the rule knows none.
const setWithout = 5

// excited is what the dog's arousal calls for now.
func (r *Run) excited() decision.Excitement {
	b := r.Block()
	if b == nil {
		return decision.Steady
	}
	return r.s.Excited(r.s.DogOf(b.ID), math.Inf(1))
}

// Arousal is how excited the dog is by what was noted last in this block, −1 where nothing was.
func (r *Run) Arousal() int {
	level := -1
	for _, one := range r.s.Arousals {
		if b := r.Block(); b != nil && one.At >= b.At {
			level = one.Level
		}
	}
	return level
}
