package record

import (
	"cmp"
	"slices"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// FoldVersion names this fold; rows derived by an older one are derived anew.
const FoldVersion = 22

// Book tells the fold what the versions named in a log say.
type Book interface {
	// Steps are the steps of one version of a plan, easiest first.
	Steps(plan string, version int) []progression.Step
	// Work is a skill's kind, and its definition in one version.
	Work(skill string, version int) (work.Kind, criteria.Definition)
}

// Session is what a log says.
type Session struct {
	ID            string
	Opened        string // the open itself
	PrimaryDevice string // the device that opened it, or took the pen since: its trials count, another's when they are accepted
	Wall          int64  // UTC Unix ms of it
	By            string
	Dog           string
	Place         string
	PlaceNamed    string // its name, where nobody had named it before
	Pieces        *int   // counted out
	Sheet         string
	Class         string // in whose meeting it was worked, "" for none
	Food          string // the reward in the hand by now, "" while none was named
	FoodTurn      string // the one with which it takes turns, "" for none
	FoodPays      int    // pays since they were taken in the hand
	Roles         trial.Roles
	Warm          []Warmup
	WarmGiven     *float64 // s, when what its next part asks was given
	Tags          []string
	Blocks        []*Block
	At            *Block // the one that is worked now
	Trials        []trial.Trial
	Pays          []Payment
	Breaks        []reinforce.Span // s of the session's clock
	Waits         []reinforce.Span // for a dog that left, for a slack line, until it was itself again, in a recovery: no pay is overdue then
	Tallied       []reinforce.Span // worked without a log, up to a tally: nothing is known of the pays then
	States        []State
	Arousals      []Arousal
	Decoys        []Decoy
	Withheld      []Withheld
	Verdicts      []Verdict
	Moves         []Move
	Notes         []Note
	Trying        *trial.UnderWay // a trial under way
	Taut          *float64        // s since when the line is taut
	Away          *float64        // s since when the dog has been away
	Recovers      []Recovery
	Turns         []Turn // where blocks were worked in turn
	Paused        bool
	Ended         *EndData
	EndAt         float64 // s, the end, or the last thing that happened
	Growls        []Growl
	Flags         []Flag
}

// Block is one block.
type Block struct {
	BlockData
	ID                string
	At                float64 // s
	Kind              work.Kind
	Steps             []progression.Step   // with steps made in the field
	Position          progression.Position // at the end of the block
	Logged            int
	Unlogged          int
	UnloggedConfirmed bool             // the trainer said how many were not logged
	Left              *int             // pieces left at its end
	Offers            int              // without a cue
	Withheld          int              // cues that were not given, because they would not have been answered
	Leaves            int              // how often the dog left, free to
	AwayS             float64          // s it was away in all
	Rests             []reinforce.Span // while another block had the turn
	left              float64          // s, when it gave the turn away
	Pulls             int
	CheckIns          int
	Doing             Mode // what it is for by now: once the dog is placed it is taught
	Handler           string
}

// InTurn are the blocks that are worked in turn with a block, itself among them, in the order in which they were begun; nil where it is
// worked alone.
func (s *Session) InTurn(b *Block) (list []*Block) {
	first := b.ID
	if b.With != "" {
		first = b.With
	}
	for _, one := range s.Blocks {
		if one.ID == first || one.With == first {
			list = append(list, one)
		}
	}
	if len(list) < 2 {
		return nil
	}
	return list
}

// Before is the block that was worked as a block began, nil for the first.
func (s *Session) Before(b *Block) (before *Block) {
	for _, one := range s.Blocks {
		if one == b {
			break
		}
		before = one
	}
	for _, turn := range s.Turns {
		if before == nil || turn.At < before.At || turn.At > b.At {
			continue
		}
		for _, one := range s.Blocks {
			if one.ID == turn.Block && one != b {
				before = one
			}
		}
	}
	return before
}

// Line is a plan as one of its handlers works it: each has a level of their own on its ladder.
type Line struct{ Plan, Level string }

// Line is the plan of a block, with whose level it works.
func (b *Block) Line() Line { return Line{b.Plan, b.Level} }

// LineOf is the line of a block, the zero value where there is no such block.
func (s *Session) LineOf(block string) Line {
	for _, b := range s.Blocks {
		if b.ID == block {
			return b.Line()
		}
	}
	return Line{}
}

// PlanOf is the plan of a block, "" where there is no such block.
func (s *Session) PlanOf(block string) string {
	for _, b := range s.Blocks {
		if b.ID == block {
			return b.Plan
		}
	}
	return ""
}

// DogOf is the dog that is worked in a block; the session's own where the block is not known.
func (s *Session) DogOf(block string) string {
	for _, b := range s.Blocks {
		if b.ID == block && b.Dog != "" {
			return b.Dog
		}
	}
	return s.Dog
}

// TrialsAt are the trials that count at a step, under its criteria, of a block's plan and level, under the block's definition; after
// the move named, where the session made it.
func (s *Session) TrialsAt(b *Block, step progression.Step, move string) (trials []trial.Trial) {
	from := -1.0
	for _, m := range s.Moves {
		if m.ID == move {
			from = m.At
		}
	}
	line := b.Line()
	var blocks []string
	for _, in := range s.Blocks {
		if in.Line() == line && in.Definition == b.Definition {
			blocks = append(blocks, in.ID)
		}
	}
	counts := func(t *trial.Trial) bool {
		return t.Step == step.ID && t.Rev == step.Rev && t.At >= from && !t.Waits && slices.Contains(blocks, t.Block)
	}
	n := 0
	for i := range s.Trials {
		if counts(&s.Trials[i]) {
			n++
		}
	}
	if n == 0 {
		return nil
	}
	trials = make([]trial.Trial, 0, n) // a trial is large, and this is asked on every press: a list that grows is copied whole
	for i := range s.Trials {
		if counts(&s.Trials[i]) {
			trials = append(trials, s.Trials[i])
		}
	}
	return trials
}

// PaysIn counts the pays of a block.
func (s *Session) PaysIn(block string) (n int) {
	for i := range s.Pays {
		if s.Pays[i].Block == block {
			n++
		}
	}
	return n
}

// GrowlsIn counts the growls and snaps in a block.
func (s *Session) GrowlsIn(block string) (n int) {
	for i := range s.Growls {
		if s.Growls[i].Block == block {
			n++
		}
	}
	return n
}

// ArousalIn is the highest arousal noted in a block, −1 where none was.
func (s *Session) ArousalIn(block string) int {
	level := -1
	for _, a := range s.Arousals {
		if a.Block == block {
			level = max(level, a.Level)
		}
	}
	return level
}

// Coverage is the block's logged ÷ (logged + said to be unlogged).
func (b Block) Coverage() float64 { return evidence.Coverage(b.Logged, b.Unlogged) }

// Payment is one pay.
type Payment struct {
	PayData
	ID, Block, Trial string
	With             string // the reward, "" where it was not said or it was not from the hand
	At               float64
}

// Warmup is one try of the warm-up.
type Warmup struct {
	ID     string
	Answer decision.Answer
	At     float64
	Part   decision.Part // of a readiness test, "" before there was one
	S      *float64      // s until the answer
	Ticks  []string      // what of an engaged dog was seen
}

// Recovery is one move of a recovery.
type Recovery struct {
	ID   string
	What string
	At   float64
}

// State is one state noted.
type State struct {
	ID    string
	At    float64
	State int
}

// Arousal is how excited the dog was at a moment, one of work.Settled to work.OverExcited.
type Arousal struct {
	ID, Block string
	At        float64
	Level     int
}

// Withheld is a cue that was not given: the dog was fetched.
type Withheld struct {
	ID, Block string
	At        float64
}

// Decoy is one decoy, with the dog's reaction to it.
type Decoy struct {
	ID, Block string
	At        float64
	Reaction  string
	Tool      string // that was shown and put away, "" for a movement alone
}

// Growl is a growl or a snap.
type Growl struct {
	ID, Block string
	At        float64
}

// Verdict is one verdict as it was said.
type Verdict struct {
	VerdictData
	ID, Block string
	At        float64
}

// Move is one move; Followed tells whether it began at the step where the dog stood.
type Move struct {
	MoveData
	ID, Block string
	At        float64
	Followed  bool
}

// Note is one note.
type Note struct {
	ID, Text string
	At       float64
	Sign     work.Sign // "" for text
}

// Flag is something in the log that the fold could not follow.
type Flag struct {
	Event string
	Code  string // no_block, move_apart, no_outcome, unknown_step
}

// Fold reads the log under the versions in book.
func (l *Log) Fold(book Book) *Session { return l.Follow(book).Session() }

type folder struct {
	book     Book
	s        *Session
	pen      string
	at       float64
	block    *Block
	tries    *trial.UnderWay
	paid     []int    // the pays of the trial under way, as places in the session's
	from     *float64 // start of a running break
	recovery *float64 // and of a recovery
	places   map[Line]progression.Position
	made     map[string][]Move   // steps made in the field, by plan
	last     int                 // index+1 of the block's last trial, for the pays after it
	offers   map[string]work.How // by trial: how those were closed that offered an approximation
	cells    map[cellOf]int      // the step of each touch that was looked up, −1 for none
	unlogged map[string]int      // by block, as it was said
	// How many breaks and waits are over: what stands behind them lasts until the end of what was read.
	breaks, waits int
}

func (f *folder) read(e placed) {
	f.at = float64(e.at) / 1000
	s := f.s
	switch d := e.data.(type) {
	case *OpenData:
		if s.ID == "" {
			s.ID, s.Opened, s.Wall, s.By = e.Session, e.ID, e.Wall, e.By
			s.Dog, s.Place, s.PlaceNamed, s.Pieces, s.Tags, s.Sheet, s.Class = d.Dog, d.Place, d.Named, d.Pieces, d.Tags, d.Sheet, d.Class
		}
	case *BlockData:
		f.begin(e, d)
	case *CueData:
		f.cue(e, d)
	case *MarkData:
		f.mark(d)
	case *HelpData:
		f.help(d)
	case *TrialData:
		f.trial(e, d)
	case *ExposureData:
		f.exposure(e, d)
	case *PayData:
		f.pay(e, d)
	case *trial.Roles:
		s.Roles = *d
	case *FoodData:
		s.Food, s.FoodTurn, s.FoodPays = d.Reward, d.Turn, 0
	case *WarmupData:
		f.warmup(e, d)
	case *PhaseData:
		f.phase(d)
	case *StateData, *DecoyData, *ArousalData, *NoteData:
		f.noted(e)
	case *TallyData:
		f.tally(e, d)
	case *CountData:
		f.count(e, d)
	case *TriggerData:
		f.trigger(e, d)
	case *LineData:
		f.line(d)
	case *TurnData:
		f.turn(e, d)
	case *RecoverData:
		f.recovers(e, d)
	case *UnloggedData:
		f.unsaid(e, d)
	case *VerdictData:
		s.Verdicts = append(s.Verdicts, Verdict{*d, e.ID, f.blockID(), f.at})
	case *MoveData:
		f.move(e, d)
	case *EndData:
		s.Ended = d
		f.drop(e)
	case *struct{}:
		f.moment(e)
	}
}

// noted reads what is noted beside the trials.
func (f *folder) noted(e placed) {
	s := f.s
	switch d := e.data.(type) {
	case *StateData:
		s.States = append(s.States, State{e.ID, f.at, d.State})
		f.calms(d.State)
	case *DecoyData:
		s.Decoys = append(s.Decoys, Decoy{e.ID, f.blockID(), f.at, d.Reaction, d.Tool})
	case *ArousalData:
		s.Arousals = append(s.Arousals, Arousal{e.ID, f.blockID(), f.at, d.Level})
	case *NoteData:
		s.Notes = append(s.Notes, Note{e.ID, d.Text, f.at, d.Sign})
	}
}

// moment reads the kinds that have no data of their own.
func (f *folder) moment(e placed) {
	at := f.at
	switch {
	case e.Kind == KPen:
		f.pen, f.s.PrimaryDevice = e.Dev, e.Dev
	case e.Kind == KRelease && f.tries != nil:
		f.tries.Released = &at
	case e.Kind == KPause && f.from == nil:
		f.from = &at
	case e.Kind == KResume && f.from != nil:
		f.s.Breaks = append(f.s.Breaks, reinforce.Span{From: *f.from, To: at})
		f.from = nil
	}
}

// finish says how things stand at the end of what was read.
func (f *folder) finish() {
	f.breaks, f.waits = len(f.s.Breaks), len(f.s.Waits)
	if f.from != nil {
		f.s.Breaks = append(f.s.Breaks, reinforce.Span{From: *f.from, To: f.s.EndAt})
	}
	f.s.Paused = f.from != nil && f.s.Ended == nil
	if f.recovery != nil { // it was never said how it ended
		f.s.Waits = append(f.s.Waits, reinforce.Span{From: *f.recovery, To: f.s.EndAt})
	}
	f.s.Trying, f.s.At = f.tries, f.block
	for _, b := range f.s.Blocks {
		b.Unlogged = f.unlogged[b.ID]
	}
	for i := range f.s.Trials {
		f.s.Trials[i].Session, f.s.Trials[i].Place = f.s.ID, f.s.Place
		f.puts(&f.s.Trials[i])
	}
}

// goesOn takes back what finish said, before more is read.
func (f *folder) goesOn() {
	f.s.Breaks, f.s.Waits = f.s.Breaks[:f.breaks], f.s.Waits[:f.waits]
}

// puts takes a trial that was put in later off those that were said not to be logged: it was one of them.
func (f *folder) puts(t *trial.Trial) {
	if !t.PutIn || t.Waits || t.Outcome == trial.Void {
		return
	}
	for _, b := range f.s.Blocks {
		if b.ID == t.Block {
			b.Unlogged = max(0, b.Unlogged-1)
		}
	}
}

func (f *folder) flag(e placed, code string) { f.s.Flags = append(f.s.Flags, Flag{e.ID, code}) }

func (f *folder) blockID() string {
	if f.block == nil {
		return ""
	}
	return f.block.ID
}

func (f *folder) begin(e placed, d *BlockData) {
	f.drop(e)
	kind, _ := f.book.Work(d.Skill, d.Definition)
	steps := f.book.Steps(d.Plan, d.PlanVersion)
	for _, m := range d.Made {
		if progression.Index(steps, m.Step.ID) < 0 {
			steps = progression.Insert(steps, m.Step, m.Above)
		}
	}
	for _, m := range f.made[d.Plan] {
		if progression.Index(steps, m.New.ID) < 0 {
			steps = progression.Insert(steps, *m.New, m.Above)
		}
	}
	line := Line{d.Plan, d.Level}
	place, going := f.places[line]
	if !going {
		place = progression.Position{Reached: d.Reached, Today: d.Reached, Given: d.Given, Since: d.Since, Half: d.Half, Splits: d.Splits}
	} else if f.block != nil && f.block.Plan == d.Plan {
		place = place.Settle(f.block.Steps, steps)
	}
	if f.block != nil {
		f.comes()
		f.block.left = f.at
	}
	f.s.Taut = nil
	f.block = &Block{BlockData: *d, ID: e.ID, At: f.at, Kind: kind, Steps: steps, Position: place, Handler: e.Handler, Doing: d.Mode}
	f.places[line] = place
	f.last = 0
	f.s.Blocks, f.s.At = append(f.s.Blocks, f.block), f.block
}

// drop leaves a trial that was begun and never closed.
func (f *folder) drop(e placed) {
	if f.tries != nil {
		f.flag(e, "no_outcome")
		f.closes()
	}
}

// closes ends the trial under way and answers its pays.
func (f *folder) closes() (pays []int) {
	pays, f.tries, f.paid = f.paid, nil, nil
	return pays
}

func (f *folder) cue(e placed, d *CueData) {
	if f.block == nil {
		f.flag(e, "no_block")
		return
	}
	f.begins()
	f.tries.Cues++
	if f.tries.Signal == nil {
		at := f.at
		f.tries.Signal = &at
	}
	if d.End != nil && f.tries.Cues == 1 {
		end := float64(*d.End) / 1000
		f.tries.CueEnd = &end
	}
}

func (f *folder) trial(e placed, d *TrialData) {
	if f.block == nil {
		f.flag(e, "no_block")
		return
	}
	defer f.elsewhere(d.Elsewhere)()
	t := f.trialOf(e, d.Elsewhere)
	t.Tapped, t.Easy, t.Asked, t.Worked, t.Measures = d.Outcome, d.Easy, d.Asked, d.Worked, d.Measures
	t.LatencyS, t.HeldS, t.Cues = d.LatencyS, d.HeldS, d.Cues
	t.Errors, t.Broke, t.Instead, t.Skill, t.Source, t.After = d.Errors, d.Broke, d.Instead, d.Skill, d.Source, d.After
	t.Ticks = d.Ticks
	t.Prompt, t.Mistake, t.RecoveryS, t.Card = d.Prompt, d.Mistake, d.Position, d.Card
	t.Waits, t.Amended = e.Dev != f.pen && !d.Accepted, corrected(e.entry.data, d)
	at := f.stepAt(d.Elsewhere)
	how := work.How{Timed: d.Put && (d.HeldS != nil || d.LatencyS != nil)}
	var pays []int
	// A helper's trial closes nothing that the pen has under way, and neither does one that was put in.
	if o := f.tries; o != nil && e.Dev == f.pen && !d.Put {
		t.From, t.Hand = o.From, o.Hand
		if at >= 0 {
			f.measure(&t, o, f.block.Steps[at].Criteria)
		}
		how = work.How{Helped: o.Helped, Assisted: o.Assisted, Released: o.Released != nil, Marked: o.Mark != nil, Timed: true}
		if at >= 0 {
			f.phases(&t, o, f.block.Steps[at].Criteria, d.Phases)
		}
		t.Prompts, t.Prompt = o.Prompts, cmp.Or(t.Prompt, o.Prompt)
		pays = f.closes()
	}
	if d.Prompts != nil {
		t.Prompts = *d.Prompts
		how.Helped, how.Assisted = how.Helped && t.Prompts > 0, how.Assisted && t.Prompts > 0
	}
	if at < 0 {
		f.flag(e, "unknown_step")
		return
	}
	t.Step, t.Rev = f.block.Steps[at].ID, f.block.Steps[at].Rev
	f.judge(&t, at, how)
	if t.Offered != nil {
		f.offers[t.ID] = how
	}
	f.add(t, pays)
}

// mark reads the marker: of the trial under way, or of one that was closed already.
func (f *folder) mark(d *MarkData) {
	if at := f.at; d.For == "" && f.tries != nil && len(f.tries.Phases) == 0 { // the first phase was the answer
		f.tries.Mark = &at
	}
	how, offered := f.offers[d.For]
	for i := range f.s.Trials {
		t := &f.s.Trials[i]
		if t.ID != d.For || !offered || t.Block != f.blockID() {
			continue
		}
		how.Marked = true
		if at := progression.Index(f.block.Steps, t.Step); at >= 0 {
			f.judge(t, at, how)
		}
	}
}

// trialOf begins the trial that an event closes, in the block that is worked.
func (f *folder) trialOf(e placed, where Elsewhere) trial.Trial {
	t := trial.Trial{
		ID: e.ID, Block: f.block.ID, From: f.at, At: f.at, By: e.By, Handler: e.Handler, Dev: e.Dev, Hand: f.s.Food,
	}
	t.PutIn = where.Put
	if where.Handler != "" {
		t.Handler = where.Handler
	}
	t.Roles = f.s.Roles
	if where.Holds != nil {
		t.Holds = *where.Holds
	}
	if where.Feeds != nil {
		t.Feeds = *where.Feeds
	}
	t.Roles = t.Beside(t.Handler)
	return t
}

// elsewhere goes to the block where a trial counts, and answers how to come back. The pays after one that was put in stay with the
// trial before it.
func (f *folder) elsewhere(where Elsewhere) (back func()) {
	block, last := f.block, f.last
	for _, b := range f.s.Blocks {
		if b.ID == where.Block {
			f.block = b
		}
	}
	return func() {
		f.block = block
		if where.Put {
			f.last = last
		}
	}
}

// stepAt is the index of the step at which a trial counts, −1 where there is none.
func (f *folder) stepAt(where Elsewhere) int {
	if at := progression.Index(f.block.Steps, where.Step); where.Put && at >= 0 {
		return at
	}
	return progression.Index(f.block.Steps, f.block.Position.Today)
}

// add adds a trial to the session, with its pays so far.
func (f *folder) add(t trial.Trial, pays []int) {
	t.Easy = t.Easy || !f.block.Doing.Teaches()
	t.Splits = f.block.Position.Splits
	f.s.Trials = append(f.s.Trials, t)
	f.last = len(f.s.Trials)
	if !t.Waits && t.Outcome != trial.Void {
		f.block.Logged++
	}
	for _, i := range pays {
		f.attach(i)
	}
}

// WhileRecovering is why food was given on the way back from too much: it is of no trial, and in no rate.
const WhileRecovering = "recovery"

func (f *folder) pay(e placed, d *PayData) {
	p := Payment{PayData: *d, ID: e.ID, Block: f.blockID(), At: f.at}
	if !d.LifeReward {
		p.With = cmp.Or(d.Reward, f.s.Food)
	}
	if d.Warm {
		p.Block = ""
		f.s.Pays = append(f.s.Pays, p)
		return
	}
	if f.recovery != nil && !p.Apart { // food on the way back is of no trial
		p.Apart, p.Reason = true, WhileRecovering
	}
	f.s.Pays = append(f.s.Pays, p)
	f.s.FoodPays++
	if d.Lasts() && d.Seconds != nil {
		f.s.Waits = append(f.s.Waits, reinforce.Span{From: f.at, To: f.at + *d.Seconds})
	}
	i := len(f.s.Pays) - 1
	if p.Apart {
		return
	}
	if d.For != "" {
		f.attachTo(i, d.For)
	} else if f.tries != nil {
		f.paid = append(f.paid, i)
		f.tries.Pays++
	} else {
		f.attach(i)
	}
}

// attach books a pay to the block's last trial.
func (f *folder) attach(i int) {
	if f.last > 0 {
		f.books(i, &f.s.Trials[f.last-1])
	}
}

// attachTo books a pay to the trial that it names.
func (f *folder) attachTo(i int, id string) {
	for n := range f.s.Trials {
		if t := &f.s.Trials[n]; t.ID == id {
			f.s.Pays[i].Block = t.Block
			f.books(i, t)
		}
	}
}

func (f *folder) books(i int, t *trial.Trial) {
	p := &f.s.Pays[i]
	p.Trial = t.ID
	t.Pays++
	t.Pieces += p.Pieces
}

func (f *folder) unsaid(e placed, d *UnloggedData) {
	for _, b := range f.s.Blocks {
		if b.ID == d.Block {
			f.unlogged[b.ID], b.UnloggedConfirmed, b.Left = d.N, !d.Unsaid, d.Left
			return
		}
	}
	f.flag(e, "no_block")
}

func (f *folder) move(e placed, d *MoveData) {
	m := Move{MoveData: *d, ID: e.ID, Block: f.blockID(), At: f.at}
	if b := f.block; b != nil {
		steps, made := b.Steps, d.New != nil && progression.Index(b.Steps, d.New.ID) < 0
		if made {
			steps = progression.Insert(b.Steps, *d.New, d.Above)
		}
		b.Position, m.Followed = b.Position.Apply(steps, progression.Move{ID: e.ID, From: d.From, To: d.To, Why: d.Why})
		if made && m.Followed { // a step to which nobody went is in no version of the plan
			b.Steps, f.made[b.Plan] = steps, append(f.made[b.Plan], m)
		}
		f.places[b.Line()] = b.Position
		if m.Followed && d.Why == progression.WhyPlaced {
			b.Doing = Train
		}
	}
	if !m.Followed {
		f.flag(e, "move_apart")
	}
	f.s.Moves = append(f.s.Moves, m)
}
