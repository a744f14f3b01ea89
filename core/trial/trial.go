package trial

import (
	"iter"
	"strconv"

	"patientfox/core/criteria"
)

// Trial is one trial. Seconds are of its session's clock unless they say otherwise; nil figures were not measured.
type Trial struct {
	ID      string  `json:"id,omitempty"`      // the event that logged it
	Session string  `json:"session,omitempty"` // equal ones belong together
	Block   string  `json:"block,omitempty"`
	Step    string  `json:"step,omitempty"`
	Rev     int     `json:"rev,omitempty"`   // of the step's criteria
	Place   string  `json:"place,omitempty"` // of its session
	Day     string  `json:"day,omitempty"`   // of its session, YYYY-MM-DD in the practice's zone; "" where that is not known
	From    float64 `json:"from,omitempty"`  // the start; the same as At where it was not timed
	At      float64 `json:"at,omitempty"`    // when it closed

	Outcome   Outcome  `json:"outcome,omitempty"`
	Tapped    Outcome  `json:"tapped,omitempty"`     // what was tapped, "" where only measures spoke
	LatencyS  *float64 `json:"latency_s,omitempty"`  // from the cue to the response
	HeldS     *float64 `json:"held_s,omitempty"`     // from the start to the release or the break
	Cues      int      `json:"cues,omitempty"`       // given, 0 where that is not known
	State     *int     `json:"state,omitempty"`      // of an exposure, 0…4; its outcome then says whether the dog was at ease
	RecoveryS *float64 `json:"recovery_s,omitempty"` // s until the dog was itself again, or after a miss in position again
	FedFirst  bool     `json:"fed_first,omitempty"`  // of an exposure: food came before the stimulus
	Measures
	Touch
	Asked  map[criteria.Key]float64 `json:"asked,omitempty"`  // where it varies: what this trial asked
	Worked map[criteria.Key]float64 `json:"worked,omitempty"` // settings as they really were, where they were not as planned

	Judge      int  `json:"judge,omitempty"`      // the judgement of its block; 0 is the first
	AfterCue   bool `json:"after_cue,omitempty"`  // void once the cue was given
	Slow       bool `json:"slow,omitempty"`       // late because the answer came too slowly
	Again      bool `json:"again,omitempty"`      // late because the cue was repeated
	Unmeasured bool `json:"unmeasured,omitempty"` // right, but logged without a measure that its step names

	Easy    bool `json:"easy,omitempty"`    // asked for less than the criterion on purpose: in the record, in no rate
	Cold    bool `json:"cold,omitempty"`    // the first counted trial of its skill on its day
	Tally   bool `json:"tally,omitempty"`   // from a count after the set: its place in the order is unknown
	Waits   bool `json:"waits,omitempty"`   // logged by a device that helps, and not accepted yet
	PutIn   bool `json:"put_in,omitempty"`  // put in later
	Amended bool `json:"amended,omitempty"` // what was logged was corrected later

	Prompts  int    `json:"prompts,omitempty"`  // times that the dog was helped
	Prompt   string `json:"prompt,omitempty"`   // how, "" where nobody said
	Assisted bool   `json:"assisted,omitempty"` // right after the help that its step plans, and not on its own
	Splits   int    `json:"splits,omitempty"`   // that had been taken since the reached step became that
	Mistake  string `json:"mistake,omitempty"`  // the handler's own, one of work.Mistakes or near it

	Card    int      `json:"card,omitempty"`    // of its block's deck, from 1; 0 for none
	Above   bool     `json:"above,omitempty"`   // its card asks clearly more than its step, or no step its touch: it decides nothing
	Phases  []Phase  `json:"phases,omitempty"`  // where it had parts, in their order
	Ticks   []string `json:"ticks,omitempty"`   // what of an engaged dog was seen
	Errors  []string `json:"errors,omitempty"`  // what the dog did wrong
	Broke   string   `json:"broke,omitempty"`   // what broke it
	Instead string   `json:"instead,omitempty"` // what the dog did instead, in a mixed block
	Skill   string   `json:"skill,omitempty"`   // asked for, in a mixed block
	Source  string   `json:"source,omitempty"`  // of an error, one of criteria.Sources
	After   string   `json:"after,omitempty"`   // what was done after an error
	Pays    int      `json:"pays,omitempty"`
	Pieces  int      `json:"pieces,omitempty"`
	By      string   `json:"by,omitempty"`
	Handler string   `json:"handler,omitempty"`
	Roles
	Dev  string `json:"dev,omitempty"`
	Hand string `json:"hand,omitempty"` // the reward in the hand when it began, by id, "" where none was named
}

// Roles are who does a part of the work beside the handler, by id; "" is done by the handler.
type Roles struct {
	Holds string `json:"holds,omitempty"` // holds the dog, or its line
	Feeds string `json:"feeds,omitempty"` // gives what is paid
}

// Beside are the roles that somebody else has than the one who handles.
func (r Roles) Beside(handler string) Roles {
	if r.Holds == handler {
		r.Holds = ""
	}
	if r.Feeds == handler {
		r.Feeds = ""
	}
	return r
}

// Each goes through trials in place.
func Each(trials []Trial) iter.Seq[*Trial] {
	return func(yield func(*Trial) bool) {
		for i := range trials {
			if !yield(&trials[i]) {
				return
			}
		}
	}
}

// Phase is one part of a trial, such as on, worn and off: how it went, and how long it took.
type Phase struct {
	Name    string  `json:"name"`
	Asked   float64 `json:"asked,omitempty"` // s that it is to last, 0 where that is not asked
	S       float64 `json:"s"`               // that it took
	Outcome Outcome `json:"outcome,omitempty"`
	State   *int    `json:"state,omitempty"` // in an exposure
}

// ThumbS is how exactly a thumb tells a moment, s.
const ThumbS = 0.3

// Read is what the phase counts as: one that was marked short of its seconds was ended early.
func (p Phase) Read() Outcome {
	if p.Outcome.Right() && p.S < p.Asked-ThumbS {
		return LetGo
	}
	return p.Outcome
}

// Counted tells whether rules and rates read the trial.
func (t *Trial) Counted() bool { return !t.Outcome.Unread() && !t.Easy && !t.Waits }

// Without leaves out the trials that are so, and keeps the order. A trial is large and this is asked on every press: where those are the
// first ones, the rest is part of the same memory, which must not be written to.
func Without(trials []Trial, is func(*Trial) bool) []Trial {
	for len(trials) > 0 && is(&trials[0]) {
		trials = trials[1:]
	}
	n := 0
	for i := range trials {
		if is(&trials[i]) {
			n++
		}
	}
	if n == 0 {
		return trials[:len(trials):len(trials)]
	}
	rest := make([]Trial, 0, len(trials)-n)
	for i := range trials {
		if !is(&trials[i]) {
			rest = append(rest, trials[i])
		}
	}
	return rest
}

// OnOwn tells whether the response was right without help, planned or not.
func (t *Trial) OnOwn() bool { return t.Outcome.Right() && !t.Assisted }

// Ended tells whether the trainer took the trial back once the cue was given: ended early, or void after the cue. What is decided
// after the cue is an outcome too, so a rule counts how often that happens.
func (t *Trial) Ended() bool {
	return !t.Waits && (t.Outcome == LetGo || t.Outcome == Void && t.AfterCue)
}

// Shown is the state that an exposure showed, 0 where none was noted. A dog that pulled away was wary at least.
func (t *Trial) Shown() int {
	switch {
	case t.State == nil:
		return 0
	case t.Pulled && t.Judge >= 2:
		return max(2, *t.State)
	}
	return *t.State
}

// Brief is the trial with what rules read alone, as a pack carries it.
func (t *Trial) Brief() Trial {
	return Trial{
		ID: t.ID, Session: t.Session, Block: t.Block, Step: t.Step, Rev: t.Rev, Place: t.Place, Day: t.Day,
		Outcome: t.Outcome, State: t.State, Easy: t.Easy, Cold: t.Cold, Tally: t.Tally,
		Judge: t.Judge, AfterCue: t.AfterCue, Slow: t.Slow, Again: t.Again, Unmeasured: t.Unmeasured, Assisted: t.Assisted,
		Splits: t.Splits,
		Touch:  Touch{Pulled: t.Pulled},
	}
}

// Shape is the code by which a trial is drawn: "state0" … "state4" of an exposure, else its outcome.
func (t *Trial) Shape() string {
	if t.State != nil {
		return "state" + strconv.Itoa(*t.State)
	}
	return string(t.Outcome)
}

// OffStep tells whether the trial's card asked clearly more or less than its step, so that no rate of the step counts it, met or not:
// if harder ones counted when they were met, they would lead up.
func (t *Trial) OffStep() bool { return t.Easy && t.Card > 0 }

// Apart tells whether a touch is at a site, or with a tool, that no step of its ladder asks for.
func (t *Trial) Apart() bool { return t.Cell && t.Above }

// Rearranged tells whether an easy trial was another task by what people arranged: its set-up, or the cue's lead and the
// time the distraction was out. It may have been the harder one, when it was missed.
func (t *Trial) Rearranged() bool {
	return t.Easy && (len(t.Worked) > 0 || t.LeadS != nil || t.OutS != nil)
}
