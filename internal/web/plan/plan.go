// Package plan is the page of one plan: what "right" is, the steps as levels with the dog's way, the
// step editor, the rule, and the evidence.
package plan

import (
	"embed"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/criteria"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/insight"
	"patientfox/internal/app/plans"
	"patientfox/internal/practice"
	"patientfox/internal/web/figures"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type screen struct {
	sh                      *shell.Shell
	p                       *practice.Practice
	page, history, verdicts *shell.Page
}

// Mount puts the page under /plans/:id.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{
		sh, p, sh.Page(templates, "plan.html", "edit.html", "around.html"), sh.Page(templates, "history.html"),
		sh.Page(templates, "verdicts.html"),
	}
	routes.Get("/plans/:id", func(c fiber.Ctx) error { return s.show(c, fiber.StatusOK, forms{}) })
	routes.Post("/plans/:id/definition", s.saveDefinition)
	routes.Post("/plans/:id/rule", s.saveRule)
	routes.Post("/plans/:id/rule/try", s.tryRule)
	routes.Post("/plans/:id/steps", s.editSteps)
	routes.Post("/plans/:id/undo", s.undo)
	routes.Post("/plans/:id/away", s.away)
	routes.Post("/plans/:id/needs", s.saves(p.SaveNeed, "needs", func(f *forms) **shell.Form { return &f.need }))
	routes.Post("/plans/:id/management", s.saves(p.SaveManagement, "between", func(f *forms) **shell.Form { return &f.management }))
	routes.Post("/plans/:id/errors", s.saves(p.SaveErrors, "errors", func(f *forms) **shell.Form { return &f.errors }))
	routes.Post("/plans/:id/engaged", s.saves(p.SaveEngaged, "engaged", func(f *forms) **shell.Form { return &f.engaged }))
	routes.Post("/plans/:id/phases", s.saves(p.SavePhases, "phases", func(f *forms) **shell.Form { return &f.phases }))
	routes.Post("/plans/:id/deck", s.saves(p.SaveDeck, "deck", func(f *forms) **shell.Form { return &f.deck }))
	routes.Post("/plans/:id/rest", s.saves(p.SaveRest, "rest", func(f *forms) **shell.Form { return &f.rest }))
	routes.Post("/plans/:id/decoys", s.saves(p.SaveDecoys, "decoys", func(f *forms) **shell.Form { return &f.decoys }))
	routes.Post("/plans/:id/breaches", s.saves(p.AddBreach, "between", func(f *forms) **shell.Form { return &f.breach }))
	routes.Post("/plans/:id/breaches/:breach/away", s.takeBack)
	routes.Post("/plans/:id/cue", s.saves(p.SaveCueing, "cue", func(f *forms) **shell.Form { return &f.cue }))
	routes.Post("/plans/:id/hands", s.saves(p.SaveMainHandler, "hands", func(f *forms) **shell.Form { return &f.hands }))
	routes.Post("/plans/:id/shown", func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := p.Show(c.Context(), c.Params("id"), shell.Person(c), typed)
		return s.answer(c, err, typed, func(f *forms, form *shell.Form) { f.shown = form }, "#hands")
	})
	routes.Post("/plans/:id/shown/:shown/away", func(c fiber.Ctx) error {
		if err := p.Unshow(c.Context(), c.Params("shown")); err != nil {
			return err
		}
		return shell.See(c, "/plans/"+c.Params("id")+"#hands")
	})
	routes.Post("/plans/:id/tracks", s.addTrack)
	routes.Post("/plans/:id/template", s.keep)
	routes.Get("/plans/:id/history", s.showHistory)
	routes.Get("/plans/:id/verdicts", s.showVerdicts)
	routes.Get("/plans/:id/verdicts.csv", func(c fiber.Ctx) error {
		v, err := p.Verdicts(c.Context(), c.Params("id"), false)
		if err != nil {
			return err
		}
		return shell.CSV(c, v.Table)
	})
}

// forms are those of the page that came back with problems; nil shows what is saved.
type forms struct {
	definition, rule, step                         *shell.Form
	need, management, breach, cue, track, template *shell.Form
	hands, shown                                   *shell.Form
	errors, decoys, rest, deck, engaged, phases    *shell.Form
	stepID                                         string
	list                                           *shell.Form // the words of a list
	try                                            *insight.TryView
}

type page struct {
	plans.PlanView
	Wide, Narrow   figures.Levels
	Interval       figures.Interval
	Open           app.StepView // the step whose panel is open
	DefinitionEdit shell.Form
	RuleEdit       shell.Form
	StepEdit       shell.Form
	EditDefinition bool
	EditRule       bool
	NeedEdit       shell.Form
	ManagementEdit shell.Form
	BreachEdit     shell.Form
	ErrorsEdit     shell.Form
	DecoysEdit     shell.Form
	RestEdit       shell.Form
	DeckEdit       shell.Form
	EngagedEdit    shell.Form
	PhasesEdit     shell.Form
	CueEdit        shell.Form
	TrackEdit      shell.Form
	TemplateEdit   shell.Form
	HandsEdit      shell.Form
	ShownEdit      shell.Form
	Try            *insight.TryView // what a rule would have said
	ListEdit       string           // the list whose words came back with problems
	ListForm       shell.Form       // they, as they were typed
	All            bool             // the list of all steps is open
	Whole          bool             // every step and every set is drawn
	ErrorResponses []string
	CueWays        []string
	Rules          []shell.Option
	RuleGroups     []ruleGroup
	Restarts       []shell.Option
	NewStep        string
	Undo           int      // the version that an undo goes back to, 0 for none
	Copied         string   // to how many dogs it was copied
	Fits           []string // what was laid out otherwise than it was asked
}

func (s screen) show(c fiber.Ctx, status int, f forms) error {
	v, err := s.p.Plan(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	var fits []string
	pg := page{
		PlanView: v, DefinitionEdit: shell.Form{Typed: v.DefinitionForm}, RuleEdit: shell.Form{Typed: v.RuleForm},
		ErrorResponses: criteria.ErrorResponses, CueWays: criteria.CueWays, Rules: ruleOptions, RuleGroups: ruleGroups(),
		Restarts: restarts, NewStep: app.NewID(),
		Try: f.try, All: c.Query("all") != "", Whole: c.Query("whole") != "",
	}
	if n, err := strconv.Atoi(c.Query("copied")); err == nil && n > 0 {
		pg.Copied = "Copied to " + say.Count(n, "dog") + "."
	}
	for _, code := range c.RequestCtx().QueryArgs().PeekMulti("fit") {
		fits = append(fits, string(code))
	}
	if len(fits) > 0 {
		if pg.Fits, err = s.p.SayFits(c.Context(), fits); err != nil {
			return err
		}
	}
	if c.Query("undo") != "" && v.Version > 1 {
		pg.Undo = v.Version - 1
	}
	wanted := f.stepID
	if wanted == "" {
		wanted = c.Query("step")
	}
	if wanted == "" {
		wanted = c.Query("mended") // a fix may have taken it out: then the reached one is shown
	}
	for _, step := range v.Steps {
		if step.ID == wanted || step.Reached && pg.Open.ID == "" {
			pg.Open = step
		}
	}
	pg.StepEdit = shell.Form{Typed: pg.Open.Figures}
	if f.definition != nil {
		pg.DefinitionEdit, pg.EditDefinition = *f.definition, true
	}
	if f.rule != nil {
		pg.RuleEdit, pg.EditRule = *f.rule, true
	}
	if f.step != nil {
		pg.StepEdit = *f.step
	}
	if f.list != nil {
		pg.ListForm, pg.ListEdit = *f.list, f.list.Typed.Text("list")
	}
	pg.around(f)
	pg.DefinitionEdit.Name, pg.RuleEdit.Name, pg.StepEdit.Name = "definition", "rule", "step"
	pg.draw()
	return s.sh.Render(c, s.page, status, shell.View{Title: v.Skill + " · " + v.Dog, Nav: "dogs", V: pg})
}

func (pg *page) draw() {
	steps := make([]figures.LevelStep, len(pg.Steps))
	for i, st := range pg.Steps {
		steps[i] = figures.LevelStep{
			ID: st.ID, Name: st.Short, At: st.Reached, Opened: st.ID == pg.Open.ID, Odd: len(st.Lints) > 0, Description: st.Name,
			Blocked: st.Blocked != "",
		}
		steps[i].Also, steps[i].Mark = pg.also(st.ID)
		if st.Blocked != "" {
			steps[i].Description += ". It waits: " + st.Blocked
		}
	}
	sets := make([]figures.LevelSet, len(pg.Points))
	for i, p := range pg.Points {
		sets[i] = figures.LevelSet{
			Step: p.Step, Met: p.Met, Size: p.Size, Full: p.Full, Part: p.Part, New: p.New, Session: p.Session,
			Day: app.ShortDay(p.Day, pg.Today), Place: p.Place,
		}
	}
	pg.Wide = figures.DrawLevels(figures.Look{Width: 850, Whole: pg.Whole, Today: "now", Word: pg.Evidence.Word}, steps, sets)
	pg.Narrow = figures.DrawLevels(figures.Look{Width: 358, Narrow: true, Whole: pg.Whole, Today: "now", Word: pg.Evidence.Word}, steps, sets)
	if e := pg.Evidence; !e.None {
		pg.Interval = figures.DrawInterval(270, e.Interval.Lo, e.Interval.Hi, float64(e.Met)/float64(e.N))
	}
}

// also names the other tracks, and the other handlers, with whom the dog is on a step, and marks them.
func (pg *page) also(step string) (who, mark string) {
	var names, marks []string
	for _, t := range pg.Tracks {
		if t.Step == step && !t.Here {
			names, marks = append(names, t.Name), append(marks, app.Initials(t.Name))
		}
	}
	for _, one := range pg.Handling.Rows {
		if one.Step == step && !one.Main {
			names, marks = append(names, "with "+one.Name), append(marks, app.Initials(one.Name))
		}
	}
	return say.Upper(say.List(names)), strings.Join(marks, " ")
}

// answer goes back to the page, or shows the form again with what is wrong.
func (s screen) answer(c fiber.Ctx, err error, typed form.Typed, put func(*forms, *shell.Form), to string) error {
	if form, status, ok := shell.Problems(typed, err); ok {
		var f forms
		put(&f, &form)
		return s.show(c, status, f)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/plans/"+c.Params("id")+to)
}

func (s screen) saveDefinition(c fiber.Ctx) error {
	typed := shell.Typed(c)
	err := s.p.SaveDefinition(c.Context(), c.Params("id"), typed)
	return s.answer(c, err, typed, func(f *forms, form *shell.Form) { f.definition = form }, "")
}

func (s screen) saveRule(c fiber.Ctx) error {
	typed := shell.Typed(c)
	err := s.p.SaveRule(c.Context(), c.Params("id"), typed)
	return s.answer(c, err, typed, func(f *forms, form *shell.Form) { f.rule = form }, "")
}

// tryRule shows what the rule of the form would have said on the plan's record.
func (s screen) tryRule(c fiber.Ctx) error {
	typed := shell.Typed(c)
	v, err := s.p.TryRule(c.Context(), c.Params("id"), typed)
	if err != nil {
		return s.answer(c, err, typed, func(f *forms, form *shell.Form) { f.rule = form }, "")
	}
	return s.show(c, fiber.StatusOK, forms{rule: &shell.Form{Typed: typed}, try: &v})
}

func (s screen) editSteps(c fiber.Ctx) error {
	typed := shell.Typed(c)
	err := s.p.EditSteps(c.Context(), c.Params("id"), typed)
	to := "?undo=1&step=" + url.QueryEscape(typed.Text("step")) + "#step"
	switch op := typed.Text("op"); {
	case c.Query("all") != "":
		to = "?undo=1&all=1#step"
	case op == "mend":
		to = "?undo=1&mended=" + url.QueryEscape(typed.Text("step")) + "#step"
	case op == "add" || op == "split":
		to = "?undo=1&step=" + url.QueryEscape(typed.Text("new")) + "#step"
	case op == "remove":
		to = "?undo=1#step"
	}
	return s.answer(c, err, typed, func(f *forms, form *shell.Form) {
		f.stepID = typed.Text("step")
		if typed.Text("op") == "list" {
			f.list = form // the step's own form shows what is saved
		} else {
			f.step = form
		}
	}, to)
}

func (s screen) undo(c fiber.Ctx) error {
	typed := shell.Typed(c)
	err := s.p.RestoreSteps(c.Context(), c.Params("id"), typed)
	return s.answer(c, err, typed, func(f *forms, form *shell.Form) { f.step = form }, "#step")
}

func (s screen) away(c fiber.Ctx) error {
	back := c.FormValue("back") != ""
	if err := s.p.DeletePlan(c.Context(), c.Params("id"), !back); err != nil {
		return err
	}
	if back {
		return shell.See(c, "/plans/"+c.Params("id"))
	}
	return shell.See(c, "/dogs/"+c.FormValue("dog")+"?put="+c.Params("id"))
}

// EvidenceLo and EvidenceHi are the ends of the likely range in words.
func (pg page) EvidenceLo() string { return say.Percent(pg.Evidence.Interval.Lo) }

// EvidenceHi is the upper end.
func (pg page) EvidenceHi() string { return say.Percent(pg.Evidence.Interval.Hi) }

// IntervalWidth is the drawn width of the likely range.
func (pg page) IntervalWidth() float64 { return pg.Interval.Hi - pg.Interval.Lo }

// shownSessions is how many sessions are beside the plan before the earlier ones are folded away.
const shownSessions = 6

// Recent are the newest sessions.
func (pg page) Recent() []app.SessionRow {
	return pg.Sessions[:min(shownSessions, len(pg.Sessions))]
}

// Earlier are the others.
func (pg page) Earlier() []app.SessionRow {
	return pg.Sessions[min(shownSessions, len(pg.Sessions)):]
}

// Odd are the steps about which something is not sound.
func (pg page) Odd() []app.StepView {
	var odd []app.StepView
	for _, step := range pg.Steps {
		if len(step.Lints) > 0 {
			odd = append(odd, step)
		}
	}
	return odd
}
