package record

import (
	"bytes"
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/experiment"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// Version is the envelope's version that this code writes. Older ones are read for ever.
const Version = 1

// Kind names what an event records.
type Kind string

// The kinds of event. An unknown kind is kept and not read.
const (
	KOpen     Kind = "open"
	KBlock    Kind = "block"
	KCue      Kind = "cue"
	KMark     Kind = "mark"
	KRelease  Kind = "release"
	KHelp     Kind = "help"
	KTrial    Kind = "trial"
	KExposure Kind = "exposure"
	KTrigger  Kind = "trigger"
	KLine     Kind = "line"
	KPay      Kind = "pay"
	KState    Kind = "state"
	KCount    Kind = "count"
	KPause    Kind = "pause"
	KResume   Kind = "resume"
	KTally    Kind = "tally"
	KUnlogged Kind = "unlogged"
	KVerdict  Kind = "verdict"
	KMove     Kind = "move"
	KNote     Kind = "note"
	KAmend    Kind = "amend"
	KRetract  Kind = "retract"
	KJoin     Kind = "join"
	KAlign    Kind = "align"
	KEnd      Kind = "end"
	KFood     Kind = "food"
	KWarmup   Kind = "warmup"
	KTurn     Kind = "turn"
	KRecover  Kind = "recover"
	KPen      Kind = "pen" // from here on this device's trials count by themselves
	KArousal  Kind = "arousal"
	KDecoy    Kind = "decoy"
	KPhase    Kind = "phase"
	KRoles    Kind = "roles" // who holds the dog and who feeds it from here on, as trial.Roles
)

// Event is one thing that happened, in the envelope all kinds share.
type Event struct {
	V       int             `json:"v"`
	ID      string          `json:"id"`      // UUIDv7 made where it happened; identity only, never order
	Session string          `json:"session"` // UUID of the session
	Dev     string          `json:"dev"`     // the device that logged it
	Seq     int64           `json:"seq"`     // per device, from 1
	T       int64           `json:"t"`       // ms since open on a monotonic clock
	Wall    int64           `json:"wall"`    // UTC Unix ms, for information
	By      string          `json:"by"`      // who logged
	Handler string          `json:"handler"` // who handled the dog
	Kind    Kind            `json:"kind"`
	Data    json.RawMessage `json:"data"`
}

// OpenData begins a session.
type OpenData struct {
	Dog    string   `json:"dog"`
	Place  string   `json:"place,omitempty"`
	Named  string   `json:"place_name,omitempty"` // the name of a place that nobody had named before
	Pieces *int     `json:"pieces,omitempty"`     // counted out for the session
	Tags   []string `json:"tags,omitempty"`       // weather, people, noise: how the session was
	Core   string   `json:"core,omitempty"`       // version of the core that ran
	Sheet  string   `json:"sheet,omitempty"`      // the planned session that it follows
	Class  string   `json:"class,omitempty"`      // the class in whose meeting it was worked, shared by the sessions of its dogs
}

// BlockData begins sets of one skill. Reached, Given and Since are the dog's position as the device knew
// it; so are Half and Splits.
type BlockData struct {
	Dog         string       `json:"dog"`
	Skill       string       `json:"skill"`
	Plan        string       `json:"plan"`
	PlanVersion int          `json:"plan_version"`
	Track       string       `json:"track,omitempty"`
	Level       string       `json:"level,omitempty"` // whose it is that is worked: a handler beside the one who began the plan
	Definition  int          `json:"definition"`
	Skills      []string     `json:"skills,omitempty"` // of a mixed block
	Mode        Mode         `json:"mode,omitempty"`
	With        string       `json:"with,omitempty"`      // the block in turn with which it is worked: of a mixed block, or of another dog
	Interlude   int          `json:"interlude,omitempty"` // for so many trials it is worked, then the block before goes on; 0: until it ends
	Phases      []work.Phase `json:"phases,omitempty"`    // parts of a trial of it
	Ready       bool         `json:"ready,omitempty"`     // a readiness test comes first
	// Experiment is what the block is given of one: which way comes first, and how many trials a set has.
	Experiment *experiment.Assigned `json:"experiment,omitempty"`
	Deck       []Card               `json:"deck,omitempty"`  // dealt in this block, one a trial
	Quota      int                  `json:"quota,omitempty"` // trials before the other side's turn, 0 for no number
	Reached    string               `json:"reached"`
	Given      bool                 `json:"given,omitempty"`
	Since      string               `json:"since,omitempty"`
	Half       string               `json:"half,omitempty"`       // a half step below the reached one that has not led back up yet
	Splits     int                  `json:"splits,omitempty"`     // that were taken since the reached step became that
	Judge      int                  `json:"judge,omitempty"`      // the judgement of its trials, work.JudgeNow; absent is the first
	Spoils     []string             `json:"spoils,omitempty"`     // the errors with which a trial of it is not met
	ClearedBy  string               `json:"cleared_by,omitempty"` // who cleared a plan that the dog's flags rule out
	Made       []Made               `json:"made,omitempty"`       // steps made in the field that this version of the plan does not have yet
}

// Card is what a trial of a deck asks, by dimension.
type Card = map[criteria.Key]float64

// Made is a step made in the field, put directly below Above.
type Made struct {
	Step  progression.Step `json:"step"`
	Above string           `json:"above"`
}

// Mode says what a block is for.
type Mode string

// The modes. No rule and no rate counts the trials of placing and of a baseline, which teach nothing on purpose, nor those of a
// rehearsal, which ask less than the step.
const (
	Train     Mode = ""
	Placing   Mode = "place"    // where a dog that knows something begins
	Baseline  Mode = "baseline" // what a dog does before it is taught
	Probe     Mode = "probe"    // whether a finished skill is still there, cold
	Rehearsal Mode = "rehearse" // a safety step made safe, for a handler whom nobody has shown it yet
)

// Valid tells whether m is one of the modes.
func (m Mode) Valid() bool {
	return m == Train || m == Placing || m == Baseline || m == Probe || m == Rehearsal
}

// Teaches tells whether the block's trials count.
func (m Mode) Teaches() bool { return m == Train || m == Probe }

// CueData is a cue, or the start of a hold.
type CueData struct {
	N    int    `json:"n,omitempty"`    // the how-manieth of this trial
	End  *int64 `json:"end,omitempty"`  // when the cue ended, session ms
	Mode string `json:"mode,omitempty"` // word, sign, uncued
}

// MarkData is the marker.
type MarkData struct {
	For string `json:"for,omitempty"` // a trial that was closed already: marked on purpose though it was less than asked
}

// HelpData is help given in a trial; Planned where the step's own criteria ask for it.
type HelpData struct {
	How     string `json:"how,omitempty"`
	Planned bool   `json:"planned,omitempty"`
}

// TrialData closes an opportunity. Measures given here win over those from the cue, mark and release
// events before it.
type TrialData struct {
	Outcome  trial.Outcome            `json:"outcome,omitempty"` // as tapped
	LatencyS *float64                 `json:"latency_s,omitempty"`
	HeldS    *float64                 `json:"held_s,omitempty"`
	Cues     int                      `json:"cues,omitempty"`
	Easy     bool                     `json:"easy,omitempty"`
	Asked    map[criteria.Key]float64 `json:"asked,omitempty"`      // where it varies: what this trial asked
	Worked   map[criteria.Key]float64 `json:"worked,omitempty"`     // settings as they really were, where they were not as planned
	Ticks    []string                 `json:"ticks,omitempty"`      // what of an engaged dog was seen
	Card     int                      `json:"card,omitempty"`       // of the block's deck, from 1; 0 for none
	Phases   []trial.Phase            `json:"phases,omitempty"`     // where they were corrected
	Errors   []string                 `json:"errors,omitempty"`     // what the dog did wrong
	Prompts  *int                     `json:"prompts,omitempty"`    // times that it was helped, where that was corrected or put in
	Prompt   string                   `json:"prompt,omitempty"`     // how
	Mistake  string                   `json:"mistake,omitempty"`    // the handler's own
	Position *float64                 `json:"recovery_s,omitempty"` // s from a miss until it was in position again
	Broke    string                   `json:"broke,omitempty"`      // what broke it
	Instead  string                   `json:"instead,omitempty"`    // what the dog did instead (mixed blocks)
	Source   string                   `json:"source,omitempty"`     // of an error: dog, handler, set-up
	After    string                   `json:"after,omitempty"`      // what was done after an error
	Skill    string                   `json:"skill,omitempty"`      // in a mixed block
	Accepted bool                     `json:"accepted,omitempty"`
	trial.Measures
	Elsewhere
}

// Elsewhere says where a trial belongs that does not simply close what is under way: one that was corrected or put in later.
type Elsewhere struct {
	Handler string  `json:"handler,omitempty"` // who handled, where that is not the one who logged with it
	Holds   *string `json:"holds,omitempty"`   // who held the dog, where that was corrected; "" is the handler
	Feeds   *string `json:"feeds,omitempty"`   // likewise who fed it
	Block   string  `json:"block,omitempty"`   // in which it counts, where that is not the one worked
	Put     bool    `json:"put,omitempty"`     // put in later: it counts, and closes and consumes nothing that is under way
	Step    string  `json:"step,omitempty"`    // of one that was put in; "" is the one worked then
}

// ExposureData closes a trial of counter-conditioning or of handling: what the dog showed while the stimulus
// was on. It has no right answer.
type ExposureData struct {
	State     int                      `json:"state"`                // 0 expects good, 1 at ease, 2 wary, 3 worried, 4 over threshold
	RecoveryS *float64                 `json:"recovery_s,omitempty"` // s until the dog was itself again
	Worked    map[criteria.Key]float64 `json:"worked,omitempty"`     // as of a trial
	HeldS     *float64                 `json:"held_s,omitempty"`     // s it was on, where that was corrected or put in
	Easy      bool                     `json:"easy,omitempty"`
	Accepted  bool                     `json:"accepted,omitempty"`
	Mistake   string                   `json:"mistake,omitempty"` // the handler's own
	Phases    []trial.Phase            `json:"phases,omitempty"`  // where they were corrected
	Touched   *trial.Touch             `json:"touched,omitempty"` // how the dog was really touched: it wins over what was said before
	trial.Touch
	Elsewhere
}

// TriggerData is a stimulus or a distraction that comes or goes.
type TriggerData struct {
	On  bool     `json:"on"`
	M   *float64 `json:"m,omitempty"`   // m from the dog
	How string   `json:"how,omitempty"` // measured, estimated, planned
	trial.Touch
}

// LineData is the line between hand and dog.
type LineData struct {
	Taut bool `json:"taut"`
}

// TurnData hands the work to another block of the session that was begun before: of another skill in a mixed block, of
// another step in turn, or of another dog.
type TurnData struct {
	Block string `json:"block"`
}

// RecoverData is one move of the exchange by which a dog comes back from too much.
type RecoverData struct {
	What string `json:"what"` // distance, look, asked, answered, slow, on, home
}

// The moves of a recovery.
const (
	Distance = "distance" // further off
	Looked   = "look"     // it offered a look
	Asked    = "asked"    // an easy cue was given
	Answered = "answered" // within 3 s
	TooSlow  = "slow"     // later, or not
	GoesOn   = "on"       // one step easier
	GoesHome = "home"
)

// PayData is one delivery.
type PayData struct {
	Pieces     int    `json:"pieces"`
	Tier       int    `json:"tier,omitempty"`  // 1…5, 0 not said
	Taken      string `json:"taken,omitempty"` // taken, slow, refused
	Where      string `json:"where,omitempty"` // it was given, one of reinforce.Places
	LifeReward bool   `json:"own,omitempty"`   // what the dog wanted itself, in place of food
	For        string `json:"for,omitempty"`   // the trial that it was for, where it was put in later
	Warm       bool   `json:"warm,omitempty"`  // before the work: it belongs to no block

	As      reinforce.RewardKind `json:"as,omitempty"`      // what it was, where it was no food in pieces
	Reward  string               `json:"reward,omitempty"`  // which, where it was not what was in the hand
	Seconds *float64             `json:"s,omitempty"`       // that it lasted, where it was no food in pieces; nil where nobody took the time
	Jackpot bool                 `json:"jackpot,omitempty"` // several pieces, one after another
	Apart   bool                 `json:"apart,omitempty"`   // for something else than a trial
	Reason  string               `json:"reason,omitempty"`  // of a jackpot, or of what was paid apart
}

// Lasts tells whether the pay takes its time: play, a chase, food that lasts, a release, or what the dog wanted itself.
func (p *PayData) Lasts() bool { return p.As != "" || p.LifeReward }

// FoodData is what is in the hand from here on.
type FoodData struct {
	Reward string `json:"reward"` // id of one of the dog's rewards
	Tier   int    `json:"tier,omitempty"`
	Turn   string `json:"turn,omitempty"` // another, with which it takes turns
}

// WarmupData is one try before the work: easy, uncued, and paid. No rule and no rate counts it.
type WarmupData struct {
	Answer decision.Answer `json:"answer"`
	Part   decision.Part   `json:"part,omitempty"`  // of a readiness test; "" is one try of a warm-up before there was one
	Given  bool            `json:"given,omitempty"` // the name, the treat or the cue was given; the answer comes later
	S      *float64        `json:"s,omitempty"`     // s until the answer
	Ticks  []string        `json:"ticks,omitempty"` // what of an engaged dog was seen
}

// StateData is what the dog shows, 0 expects good … 4 over threshold.
type StateData struct {
	State int `json:"state"`
}

// PhaseData ends one part of the trial under way; the next begins. The last part is ended by the trial itself.
type PhaseData struct {
	Outcome trial.Outcome `json:"outcome,omitempty"`
	State   *int          `json:"state,omitempty"` // in an exposure
}

// DecoyData is a movement that looks like preparation, and nothing follows; or the tool is taken out, paid, and put away untouched.
type DecoyData struct {
	Tool     string `json:"tool,omitempty"`     // that was shown, "" for the movement alone
	Reaction string `json:"reaction,omitempty"` // of the dog to it, one of work.Reactions; "" where nobody said
}

// ArousalData is how excited the dog is: 0 settled, 1 lively, 2 over-excited.
type ArousalData struct {
	Level int `json:"level"`
}

// CountData is something counted beside the trials: an offer without a cue, a check-in, a pull.
type CountData struct {
	What string `json:"what"` // offer, check_in, pull, growl …
	N    int    `json:"n,omitempty"`
}

// TallyData is a count after a set: order unknown.
type TallyData struct {
	Met    int `json:"met"`
	Late   int `json:"late,omitempty"`
	Helped int `json:"helped,omitempty"`
	Missed int `json:"missed,omitempty"`
}

// UnloggedData is what the trainer says was not logged in a block, and what was left of the pieces.
type UnloggedData struct {
	Block  string `json:"block"`
	N      int    `json:"n"`
	Left   *int   `json:"left,omitempty"`
	Unsaid bool   `json:"unsaid,omitempty"` // only what was left was said
}

// VerdictData is what a rule said then and what was done. It is never recomputed.
type VerdictData struct {
	Recommended string          `json:"advice"`
	Action      string          `json:"deed"`
	Rule        json.RawMessage `json:"rule,omitempty"`
	Reasons     json.RawMessage `json:"reasons,omitempty"`
	Core        string          `json:"core,omitempty"`
	Step        string          `json:"step"`
	Trial       string          `json:"trial"` // the trial that made it due
	TrialIDs    []string        `json:"reads,omitempty"`
	Clean       bool            `json:"clean,omitempty"` // passed with one full first set, nothing late
}

// MoveData changes today's step. New is a step made in the field, put directly below Above.
type MoveData struct {
	From  string            `json:"from"`
	To    string            `json:"to"`
	Why   progression.Why   `json:"why"`
	New   *progression.Step `json:"new,omitempty"`
	Above string            `json:"above,omitempty"`
}

// NoteData is free text, or a sign that was seen of a dog at a glance.
type NoteData struct {
	Text string    `json:"text,omitempty"`
	Sign work.Sign `json:"sign,omitempty"`
}

// AmendData sets fields of another event.
type AmendData struct {
	Target string                     `json:"target"`
	Set    map[string]json.RawMessage `json:"set"`
}

// RetractData takes another event back; a retracted retract is a redo.
type RetractData struct {
	Target string `json:"target"`
}

// JoinData brings a second device in: its clock plus Offset (ms) is the session's clock.
type JoinData struct {
	Offset int64 `json:"offset"`
}

// AlignData shifts all events of one device by Shift ms.
type AlignData struct {
	Dev   string `json:"dev"`
	Shift int64  `json:"shift"`
}

// EndData closes the session.
type EndData struct {
	Reason string `json:"reason"` // done, stop, time, food, weather, other
	Left   *int   `json:"left,omitempty"`
	Next   string `json:"next,omitempty"` // one line for next time
}

// amendable lists the fields that an amend may set, by kind.
func amendable(kind Kind) string {
	switch kind {
	case KOpen:
		return "place pieces tags"
	case KTrial:
		return "outcome latency_s held_s cues easy worked errors ticks prompts prompt mistake recovery_s broke instead source after accepted " +
			"paces pulls slack_s check_ins return_s lead_s out_s offered handler holds feeds block phases card asked"
	case KExposure:
		return "state recovery_s held_s easy worked accepted mistake touched site taken pulled done handler holds feeds block phases"
	case KTrigger:
		return "m how"
	case KPay:
		return "pieces tier taken where own s reason"
	case KFood:
		return "reward tier"
	case KWarmup:
		return "answer s ticks"
	case KRoles:
		return "holds feeds"
	case KCue:
		return "n end mode"
	case KHelp:
		return "how planned"
	case KState:
		return "state"
	case KArousal:
		return "level"
	case KDecoy:
		return "reaction"
	case KPhase:
		return "outcome state"
	case KTally:
		return "met late helped missed"
	case KUnlogged:
		return "n left"
	case KNote:
		return "text"
	case KEnd:
		return "reason left next"
	}
	return ""
}

func mayAmend(kind Kind, field string) bool {
	for _, f := range strings.Fields(amendable(kind)) {
		if f == field {
			return true
		}
	}
	return false
}

// empties make what each kind's data decodes into.
var empties = map[Kind]func() any{
	KOpen:     func() any { return new(OpenData) },
	KBlock:    func() any { return new(BlockData) },
	KCue:      func() any { return new(CueData) },
	KMark:     func() any { return new(MarkData) },
	KRelease:  func() any { return new(struct{}) },
	KPause:    func() any { return new(struct{}) },
	KResume:   func() any { return new(struct{}) },
	KPen:      func() any { return new(struct{}) },
	KHelp:     func() any { return new(HelpData) },
	KTrial:    func() any { return new(TrialData) },
	KExposure: func() any { return new(ExposureData) },
	KPay:      func() any { return new(PayData) },
	KState:    func() any { return new(StateData) },
	KPhase:    func() any { return new(PhaseData) },
	KDecoy:    func() any { return new(DecoyData) },
	KArousal:  func() any { return new(ArousalData) },
	KTally:    func() any { return new(TallyData) },
	KCount:    func() any { return new(CountData) },
	KUnlogged: func() any { return new(UnloggedData) },
	KVerdict:  func() any { return new(VerdictData) },
	KMove:     func() any { return new(MoveData) },
	KNote:     func() any { return new(NoteData) },
	KAmend:    func() any { return new(AmendData) },
	KRetract:  func() any { return new(RetractData) },
	KJoin:     func() any { return new(JoinData) },
	KAlign:    func() any { return new(AlignData) },
	KEnd:      func() any { return new(EndData) },
	KFood:     func() any { return new(FoodData) },
	KWarmup:   func() any { return new(WarmupData) },
	KTrigger:  func() any { return new(TriggerData) },
	KLine:     func() any { return new(LineData) },
	KTurn:     func() any { return new(TurnData) },
	KRecover:  func() any { return new(RecoverData) },
	KRoles:    func() any { return new(trial.Roles) },
}

// empty returns what a kind's data decodes into, nil for a kind this code does not read.
func empty(kind Kind) any {
	if make, known := empties[kind]; known {
		return make()
	}
	return nil
}

// UUID makes an identity in the form of a UUIDv7 out of chance given from outside; for practices and
// logs that must come out the same each time. Where something really happens, its device makes one.
func UUID(rng *rand.Rand) string {
	a, b := rng.Uint64(), rng.Uint64()
	return fmt.Sprintf("%08x-%04x-7%03x-8%03x-%012x", uint32(a>>32), uint16(a>>16), a&0xfff, b>>52, b&0xffffffffffff)
}

func decode(kind Kind, raw json.RawMessage) (any, error) {
	data := empty(kind)
	if data == nil {
		if len(raw) > 0 && !json.Valid(raw) {
			return nil, fmt.Errorf("not JSON")
		}
		return nil, nil
	}
	if len(bytes.TrimSpace(raw)) == 0 {
		return data, nil
	}
	return data, json.Unmarshal(raw, data)
}

// isObject tells whether data is one JSON object, or left out, which is an empty one. Logs hold older data that is
// null; it is still read as empty, and no longer taken.
func isObject(raw json.RawMessage) bool {
	raw = bytes.TrimSpace(raw)
	return len(raw) == 0 || raw[0] == '{'
}

// Draft is an event before a device has given it an identity.
type Draft struct {
	Kind Kind            `json:"kind"`
	Data json.RawMessage `json:"data"`
}

// NewDraft puts data of a kind into a draft.
func NewDraft(kind Kind, data any) Draft {
	raw, err := json.Marshal(data)
	if err != nil {
		panic(err) // our own types always encode
	}
	return Draft{kind, raw}
}
