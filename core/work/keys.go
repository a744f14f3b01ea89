package work

// Key names what can be pressed on the board. Which key of a keyboard or a remote that is, the page decides.
type Key string

// The keys of every kind of work.
const (
	Main Key = "main" // start, mark, take the verdict, resume: what comes next
	// With exposures, 1 to 4 are the states: at ease, wary, worried, over threshold.
	MetKey       Key = "met"
	LateKey      Key = "late"
	HelpKey      Key = "helped"
	MissKey      Key = "missed"
	WrongKey     Key = "wrong" // of a remote: whatever the board has for what went wrong, see Work.Wrong
	VoidKey      Key = "void"
	ShortKey     Key = "let_go" // ended early by the trainer, after the cue
	PayKey       Key = "pay"
	UndoKey      Key = "undo"
	BreakKey     Key = "break"
	EasyKey      Key = "easier"
	HardKey      Key = "harder"
	CueKey       Key = "cue" // once more
	StayKey      Key = "stay"
	BackKey      Key = "back"
	UpKey        Key = "up"
	TwoUpKey     Key = "two_up"
	OfferKey     Key = "offer"     // the behaviour was offered without a cue
	GoKey        Key = "go"        // after a warm-up: work here all the same
	LeftKey      Key = "left"      // the dog left, as it may
	ItselfKey    Key = "itself"    // itself again after a worried exposure
	RecoverKey   Key = "recover"   // begin the way back from too much
	NoAnswerKey  Key = "no_answer" // in a recovery
	HomeKey      Key = "home"
	FinishKey    Key = "finish" // an easy one to end on
	SlowKey      Key = "slow"   // the last pay was taken slowly
	RefusedKey   Key = "refused"
	DoneKey      Key = "done"      // handling: really done, or only rehearsed
	RoundKey     Key = "round"     // handling: a visit over many sites, or the step's alone
	ToolKey      Key = "tool"      // handling: the next tool in the hand
	SiteKey      Key = "site"      // handling: the next site on the outline
	SwapKey      Key = "swap"      // the other dog works
	AlternateKey Key = "alternate" // two steps in turn, or not any more
	AcceptKey    Key = "accept"    // counts what helpers logged
	GrowlKey     Key = "growl"     // it growled or snapped
	EarlyKey     Key = "early"     // it went before it was asked
	ReturnKey    Key = "return"    // ends an interlude before its last trial
	MarkedKey    Key = "marked"    // the last one was marked on purpose, though it was less than asked
	PenKey       Key = "pen"       // on a helper's device: it runs the session from here on
	MistakeKey   Key = "mistake"   // the handler's own, in the last trial
	ResetKey     Key = "reset"     // the dog was put back to where it began, after the last trial
	PositionKey  Key = "position"  // it is in position again, after a miss
	JackpotKey   Key = "jackpot"   // several pieces, one after another
	OtherKey     Key = "other"     // paid for something else than a trial
	WantedKey    Key = "wanted"    // paid with what the dog wants itself, whether it was dealt or not
	DecoyKey     Key = "decoy"     // a movement that looks like preparation, and nothing follows
	FetchedKey   Key = "fetched"   // the cue was not given, and the dog fetched
	LoopKey      Key = "loop"      // a loop of the line is let out
	RealKey      Key = "real"      // a real movement, where a decoy was dealt
	RehearseKey  Key = "rehearse"  // the safety step above is rehearsed, or the step below it taught again
)

// The keys that only some kinds of work have.
const (
	PullKey    Key = "pull"     // the line went tight
	ThrowKey   Key = "throw"    // a treat thrown away
	StopKey    Key = "stop"     // the free minute is stopped before it is over
	ExpectKey  Key = "expects"  // state 0
	PulledKey  Key = "pulled"   // it pulled away, and was let go
	TakeKey    Key = "take"     // the hand takes the site, instead of the dog offering it
	PutAwayKey Key = "put_away" // the distraction is gone
)

// Noted is the beginning of the key of a state that is noted beside the work; 0 to 4 follows.
const Noted Key = "state:"

// Offered is the beginning of the key of an approximation; its place in the list follows.
const Offered Key = "offered:"

// The beginnings of the keys that say more of the trial that was closed last, with what is said after them: an error of the dog's, the
// kind of a prompt, a mistake of the handler's. How excited the dog is, 0 to 2, can be said at any time.
const (
	ErrorOf   Key = "error:"
	PromptOf  Key = "prompt:"
	MistakeOf Key = "mistake:"
	ArousalOf Key = "arousal:"
	ReasonOf  Key = "reason:"   // of the last pay
	TickOf    Key = "tick:"     // what of an engaged dog is seen
	ReactsTo  Key = "reaction:" // to the last decoy
)

// Button is a key as a board shows it.
type Button struct {
	Key   Key    `json:"key"`
	Label string `json:"label"`
	Sub   string `json:"sub,omitempty"`
	Shape string `json:"shape,omitempty"` // an outcome or a state
	Kbd   string `json:"kbd,omitempty"`   // on a keyboard
	On    bool   `json:"on,omitempty"`    // pressed in
}
