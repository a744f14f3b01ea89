package session

import (
	"encoding/json"
	"maps"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/standing"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// CoreVersion is written into verdicts, so that a later reader knows which core spoke.
const CoreVersion = "1"

// Run is one running session: a cache over its log.
type Run struct {
	pack    pack.Pack // of the current block
	packs   []pack.Pack
	log     *record.Log
	reader  *record.Reader // of the log, under the packs
	s       *record.Session
	sheet   *Sheet // the planned session that it follows, nil for none
	now     Decided
	off     []work.Key     // keys that mean nothing now
	signs   decision.Signs // of the log so far
	armed   Armed
	refused *Problem // why the site that was picked last is not touched
	visit   *visit   // of the running skill, nil where the log has changed since it was worked out
	mapped  mapped
	halves  decision.Halves // of which sure is known
	sure    float64
	renewed bool // a pack was taken for a block that has not begun yet
	setup   asWorked
	known   settings
	inTurn  []record.Draft // what going on in turn means before anything else
	aside   int            // events that cannot be read
	dev     string         // this device, "" where only one logs
}

// Open begins with a plan's pack and an empty log.
func Open(p pack.Pack) (*Run, error) {
	if err := p.Check(); err != nil {
		return nil, err
	}
	p.Upgrade()
	p.Date()
	r := &Run{pack: p, packs: []pack.Pack{p}}
	r.reads(record.NewLog())
	return r, nil
}

// Renew takes a newer pack, for the next block: a session stays on its version until then.
func (r *Run) Renew(p pack.Pack) error {
	if err := p.Check(); err != nil {
		return err
	}
	p.Upgrade()
	p.Date()
	for i := range r.packs {
		if first := &r.packs[i]; first.Plan == p.Plan {
			// A pack that was loaded between two blocks counts this session in; the session counts itself.
			p.Days, p.First, p.LastDay, p.LastLogged = first.Days, first.First, first.LastDay, first.LastLogged
			now := p.Stands()
			stands, has := first.Stands(), first.Record()
			stands.Position, stands.Finished, has.Stretch, has.Cover = now.Position, now.Finished, p.Stretch, p.Cover
			p = pack.Make(p, stands, has)
			p.Levels = maps.Clone(p.Levels)
			for level, one := range p.Levels {
				one.Rounds = first.Levels[level].Rounds
				p.Levels[level] = one
			}
			break
		}
	}
	r.packs = append(r.packs, p)
	r.pack, r.renewed = p, true
	r.reads(r.log) // blocks may be of a version that is known only now
	return nil
}

// Steps and Work make the packs the fold's book.
func (r *Run) Steps(plan string, version int) []progression.Step {
	for _, p := range r.packs {
		if p.Plan == plan && p.PlanVersion == version {
			return p.Steps
		}
	}
	return r.pack.Steps
}

// Work is the kind and the definition of a skill in one version.
func (r *Run) Work(skill string, version int) (work.Kind, criteria.Definition) {
	for _, p := range r.packs {
		if p.Skill == skill && p.DefVersion == version {
			return p.Kind, p.Definition
		}
	}
	return r.pack.Kind, r.pack.Definition
}

// Apply adds events to the log and reads it anew. What was there already changes nothing.
func (r *Run) Apply(events []record.Event) {
	for _, e := range events {
		r.log.Add(e)
	}
	r.renewed = false
	r.fold()
}

// Salvage sets aside the events with which the session cannot be read, or is not readable by what is asked of it then; it says whether
// there were any, and the rest can be.
func (r *Run) Salvage(readable func()) bool {
	try := func(events []record.Event) (ok bool) {
		defer func() { ok = recover() == nil }()
		r.reads(record.NewLog(events...))
		readable()
		return true
	}
	kept, left := record.Salvage(r.log.Events(), try)
	r.aside += len(left)
	return try(kept) && len(left) > 0
}

// Aside is how many events were set aside.
func (r *Run) Aside() int { return r.aside }

// Now is the rule's answer to the log so far.
func (r *Run) Now() Decided { return r.now }

// Ends is the rule's answer if the session ended now, with this many more trials said to be unlogged.
func (r *Run) Ends(more int) Decided { return r.decide(true, more) }

// Pack is the pack of the block that is worked.
func (r *Run) Pack() *pack.Pack { return &r.pack }

// Off are the keys that mean nothing now.
func (r *Run) Off() []work.Key { return r.off }

// Sheet is the planned session that it follows, nil for none.
func (r *Run) Sheet() *Sheet { return r.sheet }

// On says which device this is: one that did not open the session helps.
func (r *Run) On(dev string) {
	r.dev = dev
	r.fold()
}

// Helps tells whether another device holds the pen.
func (r *Run) Helps() bool {
	return r.dev != "" && r.s.PrimaryDevice != "" && r.dev != r.s.PrimaryDevice
}

// Log is the log that the run is a cache over.
func (r *Run) Log() *record.Log { return r.log }

// Session is what the log says now.
func (r *Run) Session() *record.Session { return r.s }

// reads reads a log from its beginning.
func (r *Run) reads(log *record.Log) {
	r.log, r.reader = log, log.Follow(r)
	r.fold()
}

func (r *Run) fold() {
	r.s, r.visit = r.reader.Session(), nil
	for i := range r.s.Trials {
		r.s.Trials[i].Day = r.pack.Today
	}
	r.settle()
	r.markCold()
	r.holds()
	r.now = r.decide(r.s.Ended != nil, 0)
	r.turns()
	r.signs = r.look()
	r.off = r.idleKeys()
}

// Block is the one that is worked, nil before the first.
func (r *Run) Block() *record.Block {
	return r.s.At
}

// Position is where the dog is now, and on which steps.
func (r *Run) Position() (progression.Position, []progression.Step) {
	if b := r.Block(); b != nil {
		return b.Position, b.Steps
	}
	return r.pack.Position.Open(), r.pack.Steps
}

// Decided is the rule's answer to the log so far.
type Decided struct {
	decision.Decision
	Rule             decision.Rule
	Regain           bool   // the way back up was asked, not the plan's rule
	Trial            string // the trial it was decided on
	Answered         bool   // somebody has taken or overruled it
	Clean            bool   // passed with one full first set, nothing late
	TwoUp            bool   // two steps up may be offered
	Logged, Unlogged int
	Trials           []trial.Trial // that were put to the rule
}

// decide asks the rule. ended asks it as at the end of the session, with this many more trials said to be
// unlogged.
func (r *Run) decide(ended bool, more int) Decided {
	b := r.Block()
	if b == nil || b.Plan != r.pack.Plan {
		return Decided{}
	}
	if r.warms() {
		return r.decideReady()
	}
	if r.Doing() != record.Train {
		return r.decideMode(b)
	}
	if _, on := r.Alternating(); on && b.Position.Below() {
		return Decided{Rule: r.pack.RuleAt(b.Position.Reached), Decision: decision.Decision{Verdict: decision.Repeat}} // the other step decides
	}
	at := progression.Index(b.Steps, b.Position.Today)
	d := Decided{Rule: r.pack.RuleAt(b.Position.Today), Regain: b.Position.Below()}
	var trials []trial.Trial
	switch {
	case d.Regain && d.Rule.Kind == decision.CountUp:
		// Counting keeps its own rule on the way back up.
		trials = r.TrialsAt(b, b.Position.Today, r.LastMove(b))
		d.Decision = decision.Decide(d.Rule, decision.Question{Trials: trials, Step: at, Last: len(b.Steps) - 1})
	case d.Regain:
		trials = r.TrialsAt(b, b.Position.Today, r.LastMove(b))
		d.Decision = decision.DecideRegain(d.Rule, trials, at)
		d.Rule = d.Rule.Regain()
	default:
		trials = r.pack.Stretched(r.s, b)
		d.Decision = decision.Decide(d.Rule, r.question(b, d.Rule, trials, ended, more))
	}
	if why := r.bounded(at); d.Verdict == decision.StepUp && why != "" {
		d.Verdict, d.Reasons = decision.Repeat, append(d.Reasons, decision.Reason{Code: why})
	}
	d.Trials = trials
	d.Logged, d.Unlogged = r.coverage(trials)
	d.Due = d.Due && r.lastIsIn(trials, &d.Trial)
	finished := r.pack.Finished && b.Position.Since == r.pack.Position.Since
	var last *record.Verdict // of this plan
	for i := range r.s.Verdicts {
		v := &r.s.Verdicts[i]
		if r.s.LineOf(v.Block) != b.Line() {
			continue
		}
		last = v
		d.Answered = d.Answered || v.Trial == d.Trial && d.Trial != ""
		finished = finished || v.Action == string(decision.Finished) && v.Step == b.Position.Today
	}
	// What was taken as finished is not said again after every further trial.
	d.Due = d.Due && !(finished && d.Verdict == decision.Finished)
	if d.Verdict == decision.StepUp && !d.Regain && d.Rule.Kind == decision.Set {
		d.Clean = r.cleanFirstSet(trials, d.Rule.Size)
		d.TwoUp = last != nil && d.Clean && at+2 <= r.top(b.Steps) && last.Clean && last.Action == string(decision.StepUp)
	}
	return d
}

// question puts a stretch to the rule of its step.
func (r *Run) question(b *record.Block, rule decision.Rule, trials []trial.Trial, ended bool, more int) decision.Question {
	q := decision.Question{
		Trials: trials, Step: progression.Index(b.Steps, b.Position.Today), Last: len(b.Steps) - 1, Ended: ended,
	}
	if rule.Kind == decision.Proof {
		q.RoundsBefore = r.pack.RoundsBefore(r.s, b)
		q.Unlogged = standing.Unlogged(r.pack.Cover)
		for _, one := range r.s.Blocks {
			q.Unlogged[one.ID] = one.Unlogged
		}
		q.Unlogged[""] = more
	}
	q.Withheld = r.withheldIn(trials, b)
	return q
}

// markCold marks the first trial of each skill on its day.
func (r *Run) markCold() {
	first, begun := map[string]bool{}, map[string]bool{}
	for _, b := range r.s.Blocks {
		if p := r.packFor(b.Plan); p != nil && p.Days == 0 && !p.First && p.LastLogged == p.LastDay {
			continue // worked today already
		}
		if b.Logged > 0 && !begun[b.Skill] {
			first[b.ID], begun[b.Skill] = true, true
		}
	}
	standing.MarkCold(trial.Each(r.s.Trials), first)
}

// lastIsIn tells whether the session's last trial is one of trials: a decision is due on the trial
// that brought it about, not when the page is opened.
func (r *Run) lastIsIn(trials []trial.Trial, id *string) bool {
	n := len(r.s.Trials)
	if n == 0 || len(trials) == 0 || r.s.Trials[n-1].ID != trials[len(trials)-1].ID {
		return false
	}
	last := r.s.Trials[n-1]
	*id = last.ID
	// A void or an easy trial leaves the answer as it was; only a miss of an easy one can ask anew.
	return last.Counted() || last.Easy && last.Outcome == trial.Missed && !last.Above
}

func (r *Run) cleanFirstSet(trials []trial.Trial, size int) bool {
	n := 0
	for t := range trial.Each(trials) {
		if t.Outcome.Unread() || t.Easy {
			continue
		}
		if t.Outcome != trial.Met {
			return false
		}
		n++
	}
	return n == size
}

// LastMove is the move that brought the dog to today's step in this session.
func (r *Run) LastMove(b *record.Block) string {
	if m := r.lastMove(b); m != nil {
		return m.ID
	}
	return ""
}

func (r *Run) lastMove(b *record.Block) *record.Move {
	for i := len(r.s.Moves) - 1; i >= 0; i-- {
		if m := &r.s.Moves[i]; m.Followed && m.To == b.Position.Today && r.s.LineOf(m.Block) == b.Line() {
			return m
		}
	}
	return nil
}

// Counted are the trials of the running block that count, since the dog came to today's step. They must not be written to.
func (r *Run) Counted() []trial.Trial {
	b, from := r.Block(), -1.0
	if m := r.lastMove(b); m != nil {
		from = m.At
	}
	trials := r.now.Trials
	if trials == nil { // the rule was not asked
		trials = r.TrialsAt(b, b.Position.Today, "")
	}
	return trial.Without(trials, func(t *trial.Trial) bool { return t.Block != b.ID || t.At < from || !t.Counted() })
}

// TrialsAt gathers this session's trials of the block's plan at one step, after the named move where
// it was made in this session.
func (r *Run) TrialsAt(b *record.Block, step, since string) []trial.Trial {
	at := progression.Index(b.Steps, step)
	if at < 0 {
		return nil
	}
	return r.s.TrialsAt(b, b.Steps[at], since)
}

// coverage adds up what was logged and what was not in the blocks that the trials come from.
func (r *Run) coverage(trials []trial.Trial) (logged, unlogged int) {
	seen := map[string]bool{}
	for t := range trial.Each(trials) {
		if seen[t.Block] {
			continue
		}
		seen[t.Block] = true
		c := r.pack.Cover[t.Block]
		for _, b := range r.s.Blocks {
			if b.ID == t.Block {
				c = standing.Cover{Logged: b.Logged, Unlogged: b.Unlogged}
			}
		}
		logged, unlogged = logged+c.Logged, unlogged+c.Unlogged
	}
	return logged, unlogged
}

// withheldIn adds up the cues that were not given in the blocks that the trials come from, and in the running one.
func (r *Run) withheldIn(trials []trial.Trial, b *record.Block) (n int) {
	seen := map[string]bool{b.ID: true}
	n = b.Withheld
	for i := range trials {
		if id := trials[i].Block; !seen[id] {
			seen[id] = true
			n += r.pack.Cover[id].Withheld
			for _, other := range r.s.Blocks {
				if other.ID == id {
					n += other.Withheld
				}
			}
		}
	}
	return n
}

func encode(v any) json.RawMessage {
	raw, err := json.Marshal(v)
	if err != nil {
		panic(err) // our own types always encode
	}
	return raw
}
