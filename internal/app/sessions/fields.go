package sessions

import (
	"cmp"
	"context"
	"math"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/lookback"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// CorrectField is one thing of a trial that can be corrected.
type CorrectField struct {
	Name, Label string
	Value       string      // as it is now
	Options     []app.Named // to choose from; nil for a figure or a word
	kind        fieldKind
	of          criteria.Dimension // a setting's
}

type fieldKind int

const (
	word fieldKind = iota
	whole
	seconds
	flag
	pieces // of the pays, which are events of their own
	paid   // something else of them
	list   // words with commas between
	setting
	phase // a part of the trial, and how long it took
)

func listed(words []string) (list []app.Named) {
	list = []app.Named{{ID: "", Name: "not said"}}
	for _, one := range words {
		list = append(list, app.Named{ID: one, Name: one})
	}
	return list
}

func yes(on bool) string {
	if on {
		return "true"
	}
	return ""
}

func typedSeconds(x *float64) string {
	if x == nil {
		return ""
	}
	return criteria.Figure(math.Round(*x*10) / 10)
}

// corrector is a folded session with what its trials can be corrected to.
type corrector struct {
	f      *record.Session
	people []app.Named
	names  map[string]string // of plans
	book   derive.Book
	units  criteria.Units
}

func (p *Cases) corrector(ctx context.Context, q store.Q, f *record.Session, b derive.Book) (c corrector, err error) {
	rows, err := q.Everybody(ctx) // who left is named where they worked
	if err != nil {
		return c, err
	}
	var people []app.Named
	for _, one := range rows {
		people = append(people, app.Named{ID: one.ID, Name: one.Name})
	}
	s, err := p.Profile(ctx, q)
	names := map[string]string{}
	for id, plan := range b.Plans {
		names[id] = app.Plan{Plan: plan}.Name()
	}
	return corrector{f, people, names, b, s.Units()}, err
}

func (c corrector) block(id string) *record.Block {
	for _, b := range c.f.Blocks {
		if b.ID == id {
			return b
		}
	}
	return nil
}

// fieldList gathers fields.
type fieldList []CorrectField

func (l *fieldList) add(kind fieldKind, name, label, value string, options ...app.Named) {
	*l = append(*l, CorrectField{Name: name, Label: label, Value: value, Options: options, kind: kind})
}

// fields are what can be corrected of a trial of a block; a new trial's are empty.
func (c corrector) fields(b *record.Block, t *trial.Trial) []CorrectField {
	l := append(measures(b, t), phases(t)...)
	if t.Card > 0 {
		l.add(whole, "card", "Card of the deck", strconv.Itoa(t.Card), c.cards(b, t)...)
	}
	l.add(pieces, "pieces", "Treats paid", strconv.Itoa(t.Pieces))
	where, taken := c.delivered(t.ID)
	l.add(paid, "pay_where", "Where they went", where, coded(reinforce.Places)...)
	l.add(paid, "pay_taken", "How they were taken", taken, coded(ways)...)
	if last := c.lasting(t.ID); last != nil {
		l.add(paid, "pay_s", "Play, release or lasting food took, s", typedSeconds(last.Seconds))
	}
	if work.Of(b.Kind).Minutes {
		l.add(list, "ticks", "Seen of an engaged dog, with commas between", strings.Join(t.Ticks, ", "))
	}
	l = append(l, c.settings(b, t)...)
	if len(c.people) > 1 {
		l.add(word, "handler", "Handler", t.Handler, c.people...)
		others := append([]app.Named{{Name: "the handler"}}, c.people...)
		l.add(word, "holds", "Who held the dog", t.Holds, others...)
		l.add(word, "feeds", "Who fed it", t.Feeds, others...)
	}
	if lanes := c.mixedWith(b); len(lanes) > 1 {
		l.add(word, "block", "Skill", b.ID, lanes...)
	}
	mistakes := append(listed(work.Mistakes), app.Named{ID: work.MistakeNotSaid, Name: "kind not said"})
	mistakes[0].Name = "none"
	l.add(word, "mistake", "My mistake", t.Mistake, mistakes...)
	if !work.Of(b.Kind).ByState {
		l.add(whole, "prompts", "Times helped", strconv.Itoa(t.Prompts))
		l.add(word, "prompt", "How it was helped", t.Prompt)
		l.add(word, "source", "Source of the error", t.Source, listed(criteria.Sources)...)
		l.add(word, "after", "Response to it", t.After, listed(criteria.DoneAfter)...)
		l.add(word, "instead", "Did instead", t.Instead)
		l.add(word, "broke", "What interrupted it", t.Broke)
		l.add(seconds, "recovery_s", "In position again after, s", typedSeconds(t.RecoveryS))
		l.add(list, "errors", "Errors, with commas between", strings.Join(t.Errors, ", "))
	}
	return l
}

// cards are those of a block's deck, to choose from.
func (c corrector) cards(b *record.Block, t *trial.Trial) (list []app.Named) {
	for i := range b.Deck {
		dealt := trial.Trial{Step: t.Step, Card: i + 1}
		list = append(list, app.Named{ID: strconv.Itoa(i + 1), Name: lookback.Card(dealt, b, phrase.In(c.units))})
	}
	return list
}

// said are outcomes to choose from.
func said(outcomes []trial.Outcome) (list []app.Named) {
	for _, o := range outcomes {
		list = append(list, app.Named{ID: string(o), Name: phrase.Outcome(o)})
	}
	return list
}

// phases are the fields of the parts of a trial.
func phases(t *trial.Trial) (l fieldList) {
	for i, p := range t.Phases {
		name := "phase" + strconv.Itoa(i+1)
		if p.State != nil {
			l.add(phase, name, say.Upper(p.Name), strconv.Itoa(*p.State), numbered(work.StateNames)...)
		} else {
			l.add(phase, name, say.Upper(p.Name), string(p.Outcome), said(phaseOutcomes)...)
		}
		l.add(phase, name+"_s", say.Upper(p.Name)+" took, s", typedSeconds(&p.S))
	}
	return l
}

// ways are how a treat can have been taken.
var ways = []reinforce.Named{{Code: "taken", Label: "at once"}, {Code: "slow", Label: "slowly"}, {Code: "refused", Label: "refused"}}

func coded(codes []reinforce.Named) []app.Named {
	list := []app.Named{{Name: "not said"}}
	for _, one := range codes {
		list = append(list, app.Named{ID: one.Code, Name: one.Label})
	}
	return list
}

// delivered is where the last pay of a trial went, and how it was taken, as far as that was said.
func (c corrector) delivered(trial string) (where, taken string) {
	for i := range c.f.Pays {
		if c.f.Pays[i].Trial == trial {
			where, taken = c.f.Pays[i].Where, c.f.Pays[i].Taken
		}
	}
	return where, taken
}

// lasting is the last pay of a trial that took its time, nil where none did.
func (c corrector) lasting(trial string) (last *record.Payment) {
	for i := range c.f.Pays {
		if p := &c.f.Pays[i]; p.Trial == trial && p.Lasts() {
			last = p
		}
	}
	return last
}

// settings are the fields of what the set-up really was.
func (c corrector) settings(b *record.Block, t *trial.Trial) (l fieldList) {
	at := progression.Index(b.Steps, t.Step)
	if at < 0 {
		return nil
	}
	for _, d := range work.Settings(b.Steps, b.Steps[at].Criteria) {
		value, options := "", []app.Named(nil)
		if figure, other := t.Worked[d.Key]; other {
			value = c.units.Show(d, figure)
		}
		if d.IsList() {
			options = listed(d.Items)
			options[0].Name = "as planned"
		}
		label := d.Label + ", as worked"
		if name, _ := c.units.Of(d); name != "" {
			label += ", " + name
		}
		l = append(l, CorrectField{Name: "worked_" + string(d.Key), Label: label, Value: value, Options: options, kind: setting, of: d})
	}
	return l
}

// OfErrors tells whether a field says something of an error alone.
func (f CorrectField) OfErrors() bool {
	return f.Name == "source" || f.Name == "after" || f.Name == "instead" || f.Name == "broke" || f.Name == "recovery_s"
}

// measures are the fields of what the kind of work and the step measure.
func measures(b *record.Block, t *trial.Trial) (l fieldList) {
	var step criteria.Criteria
	if at := progression.Index(b.Steps, t.Step); at >= 0 {
		step = b.Steps[at].Criteria
	}
	for _, m := range work.Of(b.Kind).Measures(step) {
		if m.Name == "held_s" && len(t.Phases) > 0 && work.StepPhase(b.Phases) >= 0 {
			continue // it is what a phase took
		}
		switch m.Name {
		case "outcome":
			l.add(word, m.Name, m.Label, string(t.Outcome), said(outcomes)...)
		case "state":
			l.add(whole, m.Name, m.Label, strconv.Itoa(t.Shown()), numbered(work.StateNames)...)
		case "offered":
			items, _ := work.Approximations(step)
			l.add(whole, m.Name, m.Label, typedWhole(t.Offered), append([]app.Named{{Name: "not said"}}, numbered(items)...)...)
		case "site":
			l.add(word, m.Name, m.Label, t.Site)
		case "tool":
			if list := tools(b.Steps); len(list) > 1 {
				l.add(word, m.Name, m.Label, cmp.Or(t.Tool, step.Item(criteria.Tool)), list...)
			}
		case "taken", "pulled", "done":
			on := map[string]bool{"taken": t.Taken, "pulled": t.Pulled, "done": t.Done}[m.Name]
			says := map[string][2]string{
				"taken": {"the dog offered it", "you took it"}, "pulled": {"no", "yes, let go"}, "done": {"rehearsed", "really done"},
			}[m.Name]
			l.add(flag, m.Name, m.Label, yes(on), app.Named{Name: says[0]}, app.Named{ID: "true", Name: says[1]})
		case "paces", "pulls", "check_ins":
			n := map[string]int{"paces": t.Paces, "pulls": t.Pulls, "check_ins": t.CheckIns}[m.Name]
			l.add(whole, m.Name, m.Label, strconv.Itoa(n))
		default:
			x := map[string]*float64{
				"latency_s": t.LatencyS, "held_s": t.HeldS, "lead_s": t.LeadS, "out_s": t.OutS, "recovery_s": t.RecoveryS,
			}[m.Name]
			l.add(seconds, m.Name, m.Label, typedSeconds(x))
		}
	}
	return l
}

// tools are those of a ladder, to choose from.
func tools(steps []progression.Step) (list []app.Named) {
	for _, tool := range progression.Tools(steps) {
		list = append(list, app.Named{ID: tool, Name: tool})
	}
	return list
}

// numbered are words to choose from by their place in a list.
func numbered(words []string) (list []app.Named) {
	for i, one := range words {
		list = append(list, app.Named{ID: strconv.Itoa(i), Name: one})
	}
	return list
}

func typedWhole(n *int) string {
	if n == nil {
		return ""
	}
	return strconv.Itoa(*n)
}

// mixedWith are the blocks in turn with a block for the same dog, with their skills.
func (c corrector) mixedWith(b *record.Block) (lanes []app.Named) {
	for _, other := range c.f.InTurn(b) {
		if other.Dog == b.Dog && work.Of(other.Kind).ByState == work.Of(b.Kind).ByState {
			lanes = append(lanes, app.Named{ID: other.ID, Name: c.names[other.Plan]})
		}
	}
	return lanes
}
