package evidence

import (
	"math"
	"sort"

	"patientfox/core/trial"
)

// Plus is the trials of both.
func (t Tally) Plus(o Tally) Tally {
	return Tally{t.Met + o.Met, t.Late + o.Late, t.Helped + o.Helped, t.Missed + o.Missed}
}

// Add counts one more outcome; void adds nothing.
func (t *Tally) Add(o trial.Outcome) {
	switch o {
	case trial.Met:
		t.Met++
	case trial.Late:
		t.Late++
	case trial.Helped:
		t.Helped++
	case trial.Missed:
		t.Missed++
	}
}

// Right is how many were right, be it slow.
func (t Tally) Right() int { return t.Met + t.Late }

// TallyBy counts trials apart by what by says of each; "" is left out. The keys come in the order in which
// they first appear.
func TallyBy(trials []trial.Trial, by func(*trial.Trial) string) (keys []string, tallies map[string]Tally) {
	tallies = map[string]Tally{}
	for i := range trials {
		t := &trials[i]
		key := by(t)
		if key == "" || !t.Counted() {
			continue
		}
		tally, known := tallies[key]
		if !known {
			keys = append(keys, key)
		}
		tally.Add(t.Outcome)
		tallies[key] = tally
	}
	return keys, tallies
}

// FirstTrial is how cold trials went beside the others.
type FirstTrial struct {
	Cold, Warm Tally
	P          float64 // of Within, two-sided; 1 where no session could be compared
	Compared   int     // sessions in which the cold one and the rest could have come out otherwise
	Harder     bool    // the cold one goes worse, where Clear
}

// clearCold is up to which two-sided probability a difference of cold trials is spoken of. The page can be opened at any time: at 0.02 at
// most 5 % of dogs without a difference are told of one.
const clearCold = 0.02

// Clear tells whether cold trials differ from the rest.
func (f FirstTrial) Clear() bool { return f.Compared > 0 && f.P <= clearCold }

// Within compares each session's cold trial with its others at that step. It asks how often the cold one would be met if it were any of
// them: of m met among n with a chance of m ÷ n. The number met over all sessions then has a known distribution (Poisson's binomial),
// whatever the day's mood and the step.
func (f FirstTrial) Within(trials []trial.Trial) FirstTrial {
	chances := []float64{1} // of so many met
	met, expected := 0, 0.0
	var groups []coldGroup // of the session that is read: a cold trial comes before the others of its step
	session := ""
	flush := func() {
		for _, g := range groups {
			if g.met == 0 || g.met == g.n {
				continue
			}
			f.Compared++
			p := float64(g.met) / float64(g.n)
			if expected += p; g.was {
				met++
			}
			chances = oneMore(chances, p)
		}
		groups = groups[:0]
	}
	for i := range trials {
		t := &trials[i]
		if !t.Counted() || t.Tally {
			continue
		}
		if t.Session != session {
			flush()
			session = t.Session
		}
		isMet := t.Outcome == trial.Met
		if t.Cold {
			groups = append(groups, coldGroup{step: t.Step, was: isMet})
		}
		for j := range groups {
			if g := &groups[j]; g.step == t.Step {
				if g.n++; isMet {
					g.met++
				}
			}
		}
	}
	flush()
	low, high := 0.0, 0.0
	for i, c := range chances {
		if i <= met {
			low += c
		}
		if i >= met {
			high += c
		}
	}
	f.P, f.Harder = math.Min(1, 2*math.Min(low, high)), float64(met) < expected
	return f
}

// coldGroup is a session's trials at the step of a cold one, from that on.
type coldGroup struct {
	step   string
	met, n int
	was    bool // the cold one was met
}

// oneMore is the distribution of how many are met with one more, of a chance.
func oneMore(chances []float64, p float64) []float64 {
	next := make([]float64, len(chances)+1)
	for i, c := range chances {
		next[i] += c * (1 - p)
		next[i+1] += c * p
	}
	return next
}

// FirstTrials counts cold trials apart: what a dog brings along, before any warm-up.
func FirstTrials(trials []trial.Trial) (f FirstTrial) {
	for i := range trials {
		t := &trials[i]
		switch {
		case !t.Counted() || t.Tally: // whose order nobody knows
		case t.Cold:
			f.Cold.Add(t.Outcome)
		default:
			f.Warm.Add(t.Outcome)
		}
	}
	return f
}

// OnlyCold tells whether the record's trouble is its first trials alone: the latest cold one was not right,
// and everything else of its session was. Then the step is repeated before anything is concluded.
func OnlyCold(trials []trial.Trial) bool {
	last := -1
	for i := range trials {
		t := &trials[i]
		if t.Counted() && t.Cold {
			last = i
		}
	}
	if last < 0 || trials[last].Outcome.Right() {
		return false
	}
	others := 0
	for i := range trials {
		t := &trials[i]
		if i == last || !t.Counted() || t.Session != trials[last].Session {
			continue
		}
		if !t.Outcome.Right() {
			return false
		}
		others++
	}
	return others > 0
}

// Few is under how many trials a figure is called small.
const Few = 20

// Latency is how fast right responses came, s.
type Latency struct {
	N             int
	Median, P90   float64 // NaN without any
	Before, After float64 // medians of the Few/2 before the newest Few/2, and of those; NaN with fewer
}

// Changed tells whether responses have become slower or faster: a quarter at least.
func (l Latency) Changed() (slower, faster bool) {
	return l.After > 1.25*l.Before, l.After < 0.8*l.Before
}

// Latencies reads the latency of right responses, in order.
func Latencies(trials []trial.Trial) Latency {
	var all []float64
	for i := range trials {
		t := &trials[i]
		if t.Counted() && t.Outcome.Right() && t.LatencyS != nil {
			all = append(all, *t.LatencyS)
		}
	}
	const part = Few / 2
	l := Latency{N: len(all), Median: Quantile(all, 0.5), P90: Quantile(all, 0.9), Before: math.NaN(), After: math.NaN()}
	if n := len(all); n >= 2*part {
		l.Before, l.After = Quantile(all[n-2*part:n-part], 0.5), Quantile(all[n-part:], 0.5)
	}
	return l
}

// Cues is how many cues responses took. Economy is responses ÷ cues, NaN without cues.
type Cues struct{ Responses, Cues int }

// Economy is responses ÷ cues: 1 where every first cue is answered.
func (c Cues) Economy() float64 { return float64(c.Responses) / float64(c.Cues) }

// CueEconomy counts cues and right responses over the trials whose cues are known.
func CueEconomy(trials []trial.Trial) (c Cues) {
	for i := range trials {
		t := &trials[i]
		if !t.Counted() || t.Cues == 0 {
			continue
		}
		c.Cues += t.Cues
		if t.Outcome.Right() {
			c.Responses++
		}
	}
	return c
}

// StimulusControl is responses on cue ÷ all responses, those that were offered without a cue among them;
// NaN without any.
func StimulusControl(onCue, offered int) float64 {
	return float64(onCue) / float64(onCue+offered)
}

// ErrorRun is the longest run of trials in one session that were not right. A tally has no order, and ends a run.
func ErrorRun(trials []trial.Trial) int {
	longest, row, session := 0, 0, ""
	for i := range trials {
		t := &trials[i]
		if !t.Counted() {
			continue
		}
		if t.Session != session || t.Tally {
			row, session = 0, t.Session
		}
		if t.Tally {
			continue
		}
		if row++; t.Outcome.Right() {
			row = 0
		}
		longest = max(longest, row)
	}
	return longest
}

// Followed is what came after errors that were answered in one way.
type Followed struct {
	How   string
	N     int // errors answered so
	Next  int // of them, those after which another trial came in the same session
	Right int // of those trials, right ones
}

// ErrorResponses says, for each way in which errors were answered, what the next trial of the session was
// like. Often chosen where it was easy anyway: it goes with that, and need not cause it.
func ErrorResponses(trials []trial.Trial) []Followed {
	at := map[string]int{}
	var list []Followed
	for i := range trials {
		t := &trials[i]
		if !t.Counted() || t.Outcome.Right() || t.After == "" {
			continue
		}
		k, known := at[t.After]
		if !known {
			k = len(list)
			at[t.After] = k
			list = append(list, Followed{How: t.After})
		}
		f := &list[k]
		f.N++
		for _, next := range trials[i+1:] {
			if next.Session != t.Session || next.Tally {
				break
			}
			if !next.Counted() {
				continue
			}
			f.Next++
			if next.Outcome.Right() {
				f.Right++
			}
			break
		}
	}
	sort.SliceStable(list, func(i, j int) bool { return list[i].N > list[j].N })
	return list
}

// Confusion is what was done for each thing asked: Counts[i][j] times Names[j] for Names[i].
type Confusion struct {
	Names  []string
	Counts [][]int
}

// Confused counts what was done instead. A right trial did what was asked; a miss about which nobody said
// what was done instead is left out.
func Confused(trials []trial.Trial) Confusion {
	at := map[string]int{}
	var c Confusion
	index := func(name string) int {
		i, known := at[name]
		if !known {
			i = len(c.Names)
			at[name] = i
			c.Names = append(c.Names, name)
		}
		return i
	}
	var pairs [][2]int
	for i := range trials {
		t := &trials[i]
		done := t.Instead
		if t.Outcome.Right() {
			done = t.Skill
		}
		if !t.Counted() || t.Skill == "" || done == "" {
			continue
		}
		pairs = append(pairs, [2]int{index(t.Skill), index(done)})
	}
	c.Counts = make([][]int, len(c.Names))
	for i := range c.Counts {
		c.Counts[i] = make([]int, len(c.Names))
	}
	for _, p := range pairs {
		c.Counts[p[0]][p[1]]++
	}
	return c
}

// Kappa is the agreement of two records of the same trials: table[i][j] trials were i in the one and j in
// the other. Agreement is the share on the diagonal; kappa what of it lies beyond chance, NaN where
// chance alone would agree on everything. Source: J. Cohen, "A coefficient of agreement for nominal
// scales", Educational and Psychological Measurement 20 (1960).
func Kappa(table [][]int) (kappa, agreement float64) {
	n := 0.0
	rows, columns := make([]float64, len(table)), make([]float64, len(table))
	for i, row := range table {
		for j, k := range row {
			n += float64(k)
			rows[i] += float64(k)
			columns[j] += float64(k)
			if i == j {
				agreement += float64(k)
			}
		}
	}
	agreement /= n
	chance := 0.0
	for i := range rows {
		chance += rows[i] / n * columns[i] / n
	}
	return (agreement - chance) / (1 - chance), agreement
}
