package ladders

import (
	"context"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
)

// TableView is a ladder as a table that is not saved yet.
type TableView struct {
	Plan, DogID, Dog, Skill string
	Typed                   form.Typed
	Columns                 []Column
	Rows                    []Row // easiest first, as in a spreadsheet
	More                    []Column
	Faults                  []Fault
	Said                    string // what the last change did
	Changed                 int    // rows that are not as they are saved
}

// Column is one dimension of the table.
type Column struct {
	Key, Label, Unit string
	Items            []string // of a list
}

// Row is one step.
type Row struct {
	ID                 string
	Number             int
	Name               string
	Cells              []Cell
	Trig, Text         string
	TrigName, TextName string
	TickName           string
	Ticked             bool
	Lints              []string
	Reached, Changed   bool
}

// Cell is one figure of a step. Name is its field.
type Cell struct {
	Name, Label, Value, Problem string
	Items                       []string
}

// Fault is something that is not sound about several steps, with one press to mend it.
type Fault struct{ Code, Label string }

var tooMany = fmt.Sprintf("A plan has at most %d steps.", library.MaxSteps)

// table is a ladder while its table is worked on.
type table struct {
	form.Figures
	l       app.Plan
	c       progression.Case
	t       form.Typed
	steps   []progression.Step
	seen    criteria.Criteria // every dimension that a step has, with its words
	columns []criteria.Dimension
	ps      form.Problems
	ticked  []string // steps, by id
	said    string
}

// Table shows a ladder as a table: as it is saved where nothing is typed, else as it was typed, after what t["op"] names was done to it.
// Nothing is saved. What is wrong with it is answered beside it, by field.
func (p *Cases) Table(ctx context.Context, plan string, t form.Typed) (v TableView, wrong form.Problems, err error) {
	tab, err := p.open(ctx, plan, t)
	if err != nil {
		return v, nil, err
	}
	if err := tab.do(t.Text("op")); err != nil {
		return v, nil, err
	}
	return tab.view(), tab.ps, nil
}

// SaveTable saves a ladder as its table has it.
func (p *Cases) SaveTable(ctx context.Context, plan string, t form.Typed) error {
	tab, err := p.open(ctx, plan, t)
	if err != nil {
		return err
	}
	if err := tab.ps.Err(); err != nil {
		return err
	}
	return p.ChangePlan(ctx, plan, t, "table", func(_ *library.Body, steps []progression.Step) ([]progression.Step, error) {
		for _, s := range steps {
			if progression.Index(tab.steps, s.ID) < 0 && !slices.Contains(tab.gone(), s.ID) {
				return nil, &form.Invalid{Problems: map[string]string{"table": "The ladder has other steps now. Open the table anew."}}
			}
		}
		if len(tab.steps) > library.MaxSteps {
			return nil, &form.Invalid{Problems: map[string]string{"table": tooMany}}
		}
		return tab.steps, nil
	})
}

func (p *Cases) open(ctx context.Context, plan string, t form.Typed) (*table, error) {
	q, s, l, err := p.Look(ctx, plan)
	if err != nil {
		return nil, err
	}
	own, err := app.OwnDimensions(ctx, q)
	if err != nil {
		return nil, err
	}
	tab := &table{
		Figures: form.Figures{Units: s.Units(), All: form.DimensionsOf(own)}, l: l, c: l.Case(s.Day(p.Ms())), t: t, steps: l.Steps,
		ps: form.Problems{},
	}
	tab.findColumns()
	if t.Text("ids") != "" {
		tab.read()
	} else {
		t["version"] = strconv.Itoa(l.Version)
	}
	return tab, nil
}

// findColumns are the dimensions that a step uses, and those that were added to the table.
func (tab *table) findColumns() {
	added := strings.Fields(tab.t["columns"])
	if more := tab.t.Text("more"); more != "" && tab.t.Text("op") == "column" {
		added = append(added, more)
		tab.t["columns"] = strings.Join(added, " ")
	}
	for _, s := range tab.l.Steps {
		tab.seen = s.Criteria.Over(tab.seen)
	}
	for _, d := range tab.Offered(tab.seen) {
		if tab.seen.Has(d.Key) || slices.Contains(added, string(d.Key)) || typedColumn(tab.t, d.Key) {
			tab.columns = append(tab.columns, d)
		}
	}
}

// typedColumn tells whether the form had a column of a dimension.
func typedColumn(t form.Typed, key criteria.Key) bool {
	_, had := t["c0_"+string(key)]
	return had
}

// read takes the table as it was typed: its steps in their order, those that came in meanwhile too. A figure that reads as it was shown
// stays as exact as it was.
func (tab *table) read() {
	var steps []progression.Step
	ids := strings.Fields(tab.t["ids"])
	if len(ids) > library.MaxSteps {
		ids = ids[:library.MaxSteps]
		tab.ps.Add("table", tooMany)
	}
	for i, id := range ids {
		if len(id) != 36 || slices.Contains(ids[:i], id) {
			tab.ps.Add("table", "The table cannot be read any more. Open it anew.")
			continue
		}
		one := progression.Step{
			ID: id, Rev: 1, Criteria: criteria.Criteria{Lists: tab.seen.Lists, CustomDimensions: tab.seen.CustomDimensions},
		}
		if at := progression.Index(tab.l.Steps, id); at >= 0 {
			one = tab.l.Steps[at]
		}
		row := form.Typed{"trig": tab.t[name(i, "trig")], "text": tab.t[name(i, "text")]}
		for _, d := range tab.columns {
			row[string(d.Key)] = tab.t[name(i, string(d.Key))]
		}
		for _, key := range one.Criteria.Vary {
			row["vary_"+string(key)] = "on"
		}
		if one.Safety {
			row["safety"] = "on"
		}
		saved, err := tab.SaveStep([]progression.Step{one}, 0, row)
		if bad, ok := err.(*form.Invalid); ok {
			for field, text := range bad.Problems {
				tab.ps.Add(name(i, field), text)
			}
			saved = []progression.Step{one}
		}
		steps = append(steps, saved...)
		if tab.t.Text(name(i, "chosen")) != "" {
			tab.ticked = append(tab.ticked, id)
		}
	}
	tab.steps = steps
}

func name(row int, field string) string { return fmt.Sprintf("c%d_%s", row, field) }

// gone are the steps that a fix took out of the table.
func (tab *table) gone() []string { return strings.Fields(tab.t["gone"]) }

// chosen are the rows that are ticked.
func (tab *table) chosen() (rows []int) {
	for i, s := range tab.steps {
		if slices.Contains(tab.ticked, s.ID) {
			rows = append(rows, i)
		}
	}
	return rows
}

// do does one change to the table.
func (tab *table) do(op string) error {
	if len(tab.ps) > 0 || op == "" || op == "column" {
		return nil // what is wrong is mended first
	}
	if code, fix := strings.CutPrefix(op, "fix:"); fix {
		tab.mend(progression.LintCode(code))
		return nil
	}
	how := progression.Change(op)
	if !slices.Contains([]progression.Change{progression.ChangeSet, progression.ChangeShift, progression.ChangeScale}, how) {
		return app.ErrNotFound
	}
	at := slices.IndexFunc(tab.columns, func(d criteria.Dimension) bool { return string(d.Key) == tab.t.Text("of") })
	rows := tab.chosen()
	switch {
	case at < 0:
		tab.ps.Add("of", "Choose what is to change.")
		return nil
	case len(rows) == 0:
		tab.ps.Add("figure", "Tick the steps first.")
		return nil
	}
	d := tab.columns[at]
	x, problem := tab.figure(d, how)
	if problem != "" {
		tab.ps.Add("figure", problem)
		return nil
	}
	steps, problems := progression.Changed(tab.steps, rows, d, how, x)
	if len(problems) > 0 {
		tab.ps.Criteria(problems)
		return nil
	}
	tab.tell(steps)
	return nil
}

// figure reads by how much, or to what.
func (tab *table) figure(d criteria.Dimension, how progression.Change) (x float64, problem string) {
	switch {
	case how == progression.ChangeScale && d.IsList():
		return 0, "Words are not multiplied. Set them, or move them along their list by adding 1."
	case how == progression.ChangeScale:
		d = criteria.Dimension{Key: "factor", Label: "A factor", Min: 0.01, Max: 100}
	case how == progression.ChangeShift && d.IsList():
		d = criteria.Dimension{Key: "places", Label: "Places", Scale: criteria.Rank, Min: -30, Max: 30}
	case how == progression.ChangeShift:
		d.Min, d.Max = -1e6, 1e6
	}
	x, ok, problem := tab.Units.Parse(d, tab.t["figure"])
	if problem == "" && !ok {
		problem = "Enter a figure."
	}
	return x, problem
}

// mend does every fix of one lint.
func (tab *table) mend(code progression.LintCode) {
	before := tab.steps
	after := progression.MendAll(before, tab.c, code, library.MaxSteps, app.NewID)
	for _, s := range before {
		if progression.Index(after, s.ID) < 0 {
			tab.t["gone"] = strings.TrimSpace(tab.t["gone"] + " " + s.ID)
		}
	}
	tab.tell(after)
}

// tell takes the steps after a change, and says what it did.
func (tab *table) tell(after []progression.Step) {
	fresh, other := 0, 0
	for _, s := range after {
		switch at := progression.Index(tab.steps, s.ID); {
		case at < 0:
			fresh++
		case !tab.steps[at].Criteria.Equal(s.Criteria):
			other++
		}
	}
	var said []string
	for _, one := range []struct {
		n    int
		text string
	}{{fresh, "more"}, {other, "changed"}, {len(tab.steps) + fresh - len(after), "removed"}} {
		if one.n > 0 {
			said = append(said, say.Count(one.n, "step")+" "+one.text)
		}
	}
	tab.said = "Nothing to change."
	if len(said) > 0 {
		tab.said = say.Upper(say.List(said)) + ". Not saved yet."
	}
	tab.steps = after
}

func (tab *table) view() TableView {
	v := TableView{Plan: tab.l.ID, DogID: tab.l.Dog, Dog: tab.l.DogName, Skill: tab.l.SkillName, Typed: tab.t, Said: tab.said}
	v.Typed["ids"] = ""
	for _, d := range tab.columns {
		v.Columns = append(v.Columns, tab.column(d))
	}
	for _, d := range tab.All {
		if !slices.ContainsFunc(tab.columns, func(one criteria.Dimension) bool { return one.Key == d.Key }) {
			v.More = append(v.More, tab.column(d))
		}
	}
	words := phrase.In(tab.Units)
	for i, s := range tab.steps {
		v.Typed["ids"] += s.ID + " "
		row := tab.row(i, s, words)
		if row.Changed {
			v.Changed++
		}
		v.Rows = append(v.Rows, row)
	}
	count := map[progression.LintCode]int{}
	for _, lint := range progression.Lints(tab.steps, tab.c) {
		says, _ := words.Lint(lint)
		v.Rows[lint.Step].Lints = append(v.Rows[lint.Step].Lints, says)
		if lint.Fix != progression.FixNeed {
			count[lint.Code]++
		}
	}
	for _, code := range progression.LintCodes {
		if n := count[code]; n > 0 {
			v.Faults = append(v.Faults, Fault{string(code), phrase.FixAll(code, n)})
		}
	}
	return v
}

func (tab *table) column(d criteria.Dimension) Column {
	unit, _ := tab.Units.Of(d)
	one := Column{Key: string(d.Key), Label: d.Label, Unit: unit}
	if d.IsList() {
		one.Items = d.Items
	}
	return one
}

func (tab *table) row(i int, s progression.Step, words phrase.Words) Row {
	row := Row{
		ID: s.ID, Number: i + 1, Name: words.Step(s.Criteria), Trig: s.Criteria.Trig, Text: s.Criteria.Text,
		TrigName: name(i, "trig"), TextName: name(i, "text"), TickName: name(i, "chosen"), Reached: s.ID == tab.l.Standing.Reached,
	}
	row.Ticked = slices.Contains(tab.ticked, s.ID)
	at := progression.Index(tab.l.Steps, s.ID)
	row.Changed = at < 0 || !tab.l.Steps[at].Criteria.Equal(s.Criteria)
	for _, d := range tab.columns {
		if here, ok := s.Criteria.Dimension(d.Key); ok && s.Criteria.Has(d.Key) {
			d = here
		}
		cell := Cell{Name: name(i, string(d.Key)), Label: fmt.Sprintf("%s, step %d", d.Label, i+1)}
		if s.Criteria.Has(d.Key) {
			cell.Value = tab.Units.Show(d, s.Criteria.Get(d.Key))
		}
		if d.IsList() {
			cell.Items = d.Items
		}
		if cell.Problem = tab.ps[cell.Name]; cell.Problem != "" {
			cell.Value = tab.t[cell.Name]
		}
		row.Cells = append(row.Cells, cell)
	}
	return row
}
