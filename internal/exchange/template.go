package exchange

import (
	"bytes"
	"fmt"
	"slices"
	"strconv"
	"strings"
	"unicode"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/library"
	"patientfox/core/progression"
	"patientfox/core/work"
)

// TemplateFormat and TemplateVersion head every template file. docs/templates.md describes it.
const (
	TemplateFormat  = "patient-fox-template"
	TemplateVersion = 2
	MaxTemplate     = 200 << 10 // bytes
)

// ReadTemplate reads a template file. Problems name their line and what would mend them; with any, the
// template cannot be used.
func ReadTemplate(data []byte) (library.Template, []Problem) {
	if len(data) > MaxTemplate {
		return library.Template{}, []Problem{{0, fmt.Sprintf("The file is over %d KB: a template is smaller.", MaxTemplate>>10)}}
	}
	root, problem := parse(bytes.TrimPrefix(data, []byte("\xef\xbb\xbf")))
	if problem != nil {
		return library.Template{}, []Problem{*problem}
	}
	r := &templateReader{own: map[criteria.Key]criteria.Dimension{}, lists: map[criteria.Key][]string{}}
	t := r.template(root)
	return t, r.problems
}

type templateReader struct {
	reader
	version int
	own     map[criteria.Key]criteria.Dimension
	lists   map[criteria.Key][]string
}

func (r *templateReader) template(root *node) library.Template {
	var t library.Template
	o := r.object(root, "A template")
	if len(r.problems) > 0 {
		return t
	}
	if format := r.text(o, "format"); format != TemplateFormat {
		r.add(root.line, "This is no template of Patient Fox: it says “format”: %q where %q belongs.", clip(format), TemplateFormat)
		return t
	}
	r.version = r.whole(o, "version")
	switch version := r.version; {
	case version > TemplateVersion:
		r.add(o.lines["version"],
			"This template was written in version %d of the format; this program reads up to %d. Use a newer Patient Fox, or ask for "+
				"the file in an older version.",
			version, TemplateVersion)
		return t
	case version < 1:
		r.add(max(1, o.lines["version"]), "Say which version of the format it is: \"version\": %d.", TemplateVersion)
		return t
	}
	t.Name, t.About, t.Kind = r.text(o, "name"), r.text(o, "about"), work.Kind(r.text(o, "kind"))
	t.For, t.Bring = r.text(o, "for_whom"), r.text(o, "bring")
	t.Definition = r.definition(o)
	r.dimensions(o)
	r.readLists(o)
	r.ladder(o, &t)
	t.Tracks = r.texts(o, "tracks")
	t.Body = r.body(o)
	r.rest(o, "A template")
	if len(r.problems) == 0 {
		for _, p := range t.Check() {
			r.add(r.lineOf(o, p.Field), "%s", p.Text)
		}
	}
	r.plain(root)
	return t
}

// lineOf finds the line of a field that the core named, as near as it can.
func (r *templateReader) lineOf(o *object, field string) int {
	within := map[string]string{
		"rate_lo": "reinforcement", "rate_hi": "reinforcement", "pay_pieces": "reinforcement", "pay_paces": "reinforcement",
		"tier":     "reinforcement",
		"schedule": "reinforcement", "k": "reinforcement", "share": "reinforcement", "purpose": "reinforcement", "delivery": "reinforcement",
		"where": "reinforcement", "jackpot": "reinforcement", "own": "reinforcement", "own_is": "reinforcement", "arousal": "reinforcement",
		"size": "rule", "up": "rule", "back": "rule", "split_after": "rule", "miss_guard": "rule", "wrong": "goes_wrong",
		"position": "definition", "postures": "definition", "break": "definition", "cue2": "definition", "latency_s": "definition",
		"missed_s":    "definition",
		"after_error": "definition", "cue_by": "definition", "timed_from": "definition",
	}
	if strings.HasPrefix(field, "leg") || field == "share" {
		field = "ladder"
	}
	if outer, ok := within[field]; ok {
		if n := o.nodes[outer]; n != nil {
			if inner, ok := n.value.(*object); ok && inner.lines[field] > 0 {
				return inner.lines[field]
			}
		}
		field = outer
	}
	return max(1, o.lines[field])
}

// plain refuses characters that no text needs.
func (r *templateReader) plain(n *node) {
	switch v := n.value.(type) {
	case string:
		if strings.ContainsFunc(v, func(c rune) bool { return unicode.IsControl(c) && c != '\n' && c != '\t' }) {
			r.add(n.line, "This text has control characters. Delete them.")
		}
	case []*node:
		for _, item := range v {
			r.plain(item)
		}
	case *object:
		for _, name := range v.names {
			r.plain(v.nodes[name])
		}
	}
}

func (r *templateReader) definition(o *object) criteria.Definition {
	d := r.object(o.get("definition"), "The definition")
	def := criteria.Definition{
		Position: r.text(d, "position"), Postures: r.text(d, "postures"), When: r.text(d, "when"), Break: r.text(d, "break"),
		Cue: r.text(d, "cue"), CueBy: r.text(d, "cue_by"), Cue2: r.text(d, "cue2"), Cue3: r.text(d, "cue3"),
		LatencyS: r.number(d, "latency_s"), MissedS: r.number(d, "missed_s"), TimedFrom: r.text(d, "timed_from"),
		Marker:  r.text(d, "marker"),
		Release: r.text(d, "release"), AfterError: r.text(d, "after_error"), AfterText: r.text(d, "after_text"), Text: r.text(d, "text"),
	}
	r.rest(d, "A definition")
	return def
}

var directions = map[string]int{"more": 1, "less": -1, "": 0}

// dimensions reads those of the practice that wrote the file.
func (r *templateReader) dimensions(o *object) {
	for _, n := range r.list(o, "dimensions") {
		d := r.object(n, "A dimension")
		one := criteria.Dimension{
			Key: criteria.Key(r.text(d, "key")), Label: r.text(d, "label"), Unit: r.text(d, "unit"), Hint: r.text(d, "hint"),
			Min: r.number(d, "min"), Max: r.number(d, "max"), Items: r.texts(d, "items"),
		}
		harder, known := directions[r.text(d, "harder")]
		if !known {
			r.add(d.lines["harder"], "“harder” is “more” or “less”; leave it out for a list without an order.")
		}
		one.Harder = harder
		if len(one.Items) > 0 {
			one.Scale, one.Max = criteria.Ranked, criteria.MaxItems-1
			if harder == 0 {
				one.Scale = criteria.Unranked
			}
		}
		r.rest(d, "A dimension")
		for _, p := range one.CheckOwn() {
			r.add(n.line, "%s", p.Text)
		}
		r.own[one.Key] = one
	}
}

func (r *templateReader) readLists(o *object) {
	lists := r.object(o.get("lists"), "“lists”")
	for _, name := range lists.names {
		d, ok := criteria.Find(criteria.Key(name))
		if !ok || !d.IsList() {
			r.add(lists.lines[name], "There is no list called “%s”.", clip(name))
			continue
		}
		items := r.texts(lists, name)
		for _, p := range criteria.CheckItems(name, items) {
			r.add(lists.lines[name], "%s", p.Text)
		}
		r.lists[d.Key] = items
	}
}

func (r *templateReader) dimension(name string) (criteria.Dimension, bool) {
	d, ok := criteria.Find(criteria.Key(name))
	if !ok {
		d, ok = r.own[criteria.Key(name)]
	}
	if items := r.lists[d.Key]; len(items) > 0 {
		d.Items = items
	}
	return d, ok
}

// step reads what one step asks.
func (r *templateReader) step(n *node) (criteria.Criteria, bool) {
	o := r.object(n, "A step")
	c := criteria.Criteria{Text: r.text(o, "text"), Trig: r.text(o, "trigger_is")}
	safety := r.yes(o, "safety")
	for _, key := range r.texts(o, "vary") {
		c.Vary = append(c.Vary, criteria.Key(key))
	}
	for _, d := range criteria.Dimensions {
		o.read[string(d.Key)] = false // known, for the sake of the nearest name
	}
	for _, name := range o.names {
		if o.read[name] {
			continue
		}
		d, ok := r.dimension(name)
		if !ok {
			text := fmt.Sprintf("There is no dimension called “%s”.", clip(name))
			if near := nearest(name, o.read); near != "" {
				text += fmt.Sprintf(" Did you mean “%s”?", near)
			}
			r.add(o.lines[name], "%s", text)
			continue
		}
		item := o.nodes[name]
		switch v := item.value.(type) {
		case float64:
			if text := d.Check(v); text != "" {
				r.add(item.line, "%s In a file, metres and seconds.", text)
			}
			c = c.WithDimension(d, v)
		case string:
			value, given, problem := criteria.Units{}.Parse(d, v)
			if problem != "" || !given {
				r.add(item.line, "%s", problem)
				continue
			}
			c = c.WithDimension(d, value)
		default:
			r.add(item.line, "“%s” takes a number, or a word of its list.", name)
		}
	}
	return c, safety
}

func (r *templateReader) ladder(o *object, t *library.Template) {
	for _, n := range r.list(o, "steps") {
		c, safety := r.step(n)
		t.Steps, t.Safety = append(t.Steps, c), append(t.Safety, safety)
	}
	if o.get("ladder") == nil {
		if len(t.Steps) == 0 {
			r.add(max(1, o.lines["name"]), "The ladder is missing: write “ladder” (how it is made) or “steps” (each step).")
		}
		return
	}
	if len(t.Steps) > 0 {
		r.add(o.lines["ladder"], "Write either “ladder” or “steps”, not both.")
		return
	}
	l := r.object(o.get("ladder"), "The ladder")
	if n := l.get("base"); n != nil {
		t.Layout.Base, _ = r.step(n)
	}
	t.Layout.Combine, t.Layout.Share, t.Layout.Ease = progression.Combine(r.text(l, "join")), r.number(l, "share"), r.number(l, "ease")
	t.Layout.Help = r.texts(l, "help")
	if !slices.Contains(append(progression.Combines, ""), t.Layout.Combine) {
		r.add(l.lines["join"], "Legs are joined by “weave”, “then”, “full” or “alternate”.")
	}
	for _, n := range r.list(l, "legs") {
		leg := r.object(n, "A leg")
		one := progression.Generator{
			Make: progression.Make(r.text(leg, "make")), From: r.number(leg, "from"), To: r.number(leg, "to"), By: r.number(leg, "by"),
			Times: r.yes(leg, "times"), Level: r.whole(leg, "level"), Trig: r.text(leg, "trigger_is"),
			Items: r.texts(leg, "items"), Tools: r.texts(leg, "tools"), Sore: r.texts(leg, "sore"), Moves: r.yes(leg, "moves"),
		}
		r.parts(leg, &one)
		one.List = r.numbers(leg, "figures")
		if !slices.Contains(progression.Makes, one.Make) {
			r.add(max(n.line, leg.lines["make"]), "There is no generator called “%s”. Those there are: %s.", clip(string(one.Make)), makes())
		}
		if what := r.text(leg, "what"); what != "" {
			d, ok := r.dimension(what)
			if !ok {
				r.add(leg.lines["what"], "There is no dimension called “%s”.", clip(what))
			}
			one.What = d
		}
		r.rest(leg, "A leg")
		t.Layout.Generators = append(t.Layout.Generators, one)
	}
	if len(t.Layout.Generators) == 0 || len(t.Layout.Generators) > 6 {
		r.add(o.lines["ladder"], "A ladder has 1 to 6 legs.")
	}
	r.rest(l, "A ladder")
}

// parts reads the parts of a stimulus, each a name or a name with figures, and which of them come together.
func (r *templateReader) parts(leg *object, g *progression.Generator) {
	for _, n := range r.list(leg, "parts") {
		if name, ok := n.value.(string); ok {
			g.Parts = append(g.Parts, progression.Part{Name: name})
			continue
		}
		o := r.object(n, "A part")
		g.Parts = append(g.Parts, progression.Part{
			Name: r.text(o, "name"), Metres: r.numbers(o, "metres"), Levels: r.numbers(o, "strength"), Seconds: r.numbers(o, "seconds"),
		})
		r.rest(o, "A part")
	}
	for _, n := range r.list(leg, "together") {
		names := &object{nodes: map[string]*node{"together": n}, lines: map[string]int{"together": n.line}, read: map[string]bool{}}
		g.Together = append(g.Together, r.texts(names, "together"))
	}
}

func (r *templateReader) numbers(o *object, name string) (list []float64) {
	for _, n := range r.list(o, name) {
		x, ok := n.value.(float64)
		if !ok {
			r.add(n.line, "“%s” is a list of numbers: [2, 4, 6].", name)
		}
		list = append(list, x)
	}
	return list
}

func makes() string {
	var names []string
	for _, m := range progression.Makes {
		names = append(names, string(m))
	}
	return strings.Join(names, ", ")
}

func (r *templateReader) body(o *object) library.Body {
	b := library.Body{
		Method: r.text(o, "method"), Props: r.text(o, "props"), Cautions: r.texts(o, "cautions"), Wrong: r.texts(o, "goes_wrong"),
		Rule: r.rule(o.get("rule")),
	}
	r.pay(o.get("reinforcement"), &b)
	for _, n := range r.list(o, "needs") {
		need := r.object(n, "A need")
		one := progression.Need{Skill: r.text(need, "skill"), Step: r.whole(need, "step"), Why: r.text(need, "why")}
		if before := r.whole(need, "before"); before > 0 {
			one.Before = strconv.Itoa(before)
		}
		r.rest(need, "A need")
		b.Needs = append(b.Needs, one)
	}
	for _, n := range r.list(o, "management") {
		m := r.object(n, "A line of “management”")
		b.Management = append(b.Management, library.Instead{Not: r.text(m, "not"), Instead: r.text(m, "instead")})
		r.rest(m, "A line of “management”")
	}
	if o.nodes["errors"] != nil {
		b.Errors = []work.Error{} // none is something that can be said
	}
	for _, n := range r.list(o, "errors") {
		e := r.object(n, "An error")
		b.Errors = append(b.Errors, work.Error{Name: r.text(e, "name"), Spoils: r.yes(e, "spoils")})
		r.rest(e, "An error")
	}
	for _, n := range r.list(o, "phases") {
		phase := r.object(n, "A phase")
		b.Phases = append(b.Phases, work.Phase{
			Name: r.text(phase, "name"), Seconds: r.number(phase, "seconds"), Step: r.yes(phase, "step"), Meal: r.yes(phase, "meal"),
		})
		r.rest(phase, "A phase")
	}
	b.Engaged = r.texts(o, "engaged")
	if o.get("rest_min") != nil {
		minutes := r.number(o, "rest_min")
		b.RestMin = &minutes
	}
	if o.get("decoy_in") != nil {
		in := r.whole(o, "decoy_in")
		b.DecoyIn = &in
	}
	deck := r.object(o.get("deck"), "“deck”")
	for _, key := range library.DeckKeys {
		if figures := r.numbers(deck, string(key)); len(figures) > 0 {
			if b.Deck == nil {
				b.Deck = library.Deck{}
			}
			b.Deck[key] = figures
		}
	}
	r.rest(deck, "“deck”")
	cue := r.object(o.get("cue"), "“cue”")
	b.Cueing = library.Cueing{New: r.text(cue, "new"), Old: r.text(cue, "old")}
	r.rest(cue, "“cue”")
	return b
}

func (r *templateReader) rule(n *node) decision.Rule {
	if n == nil {
		return decision.Usual(decision.Set)
	}
	o := r.object(n, "A rule")
	rule := decision.Usual(decision.Kind(r.text(o, "kind")))
	rule.Kind = decision.Kind(r.text(o, "kind"))
	for name, to := range map[string]*int{
		"size": &rule.Size, "up": &rule.Up, "back": &rule.Back, "split_after": &rule.SplitAfter, "miss_guard": &rule.MissGuard,
		"window": &rule.Window, "sessions": &rule.Sessions, "places": &rule.Places, "back_window": &rule.BackWindow,
		"look_back": &rule.LookBack, "back_min": &rule.BackMin, "clean": &rule.Clean, "expect": &rule.Expect, "min_days": &rule.MinDays,
	} {
		if o.nodes[name] != nil {
			*to = r.whole(o, name)
		}
		o.read[name] = true
	}
	for name, to := range map[string]*float64{
		"rate": &rule.Rate, "back_below": &rule.BackBelow, "target": &rule.Target, "conf": &rule.Conf,
		"back_rate": &rule.BackRate, "back_conf": &rule.BackConf,
	} {
		if o.nodes[name] != nil {
			*to = r.number(o, name)
		}
		o.read[name] = true
	}
	if o.nodes["restart"] != nil {
		rule.Restart = decision.Restart(r.text(o, "restart"))
	}
	o.read["restart"] = true
	rule.ErrorGuard, rule.Lenient = r.yes(o, "error_guard"), r.yes(o, "lenient")
	rule.SlowWrong, rule.AgainWrong = r.yes(o, "slow_wrong"), r.yes(o, "again_wrong")
	r.rest(o, "A rule")
	for _, p := range rule.Check() {
		r.add(max(n.line, o.lines[p.Field]), "%s", p.Text)
	}
	return rule
}
