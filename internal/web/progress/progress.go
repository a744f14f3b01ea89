// Package progress is the page of how a plan has gone: the way over its levels, rates and latency on the same
// axis, where it has been taught and where never, and what was taken away meanwhile.
package progress

import (
	"embed"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app"
	"patientfox/internal/app/insight"
	"patientfox/internal/practice"
	"patientfox/internal/web/figures"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type screen struct {
	sh   *shell.Shell
	p    *practice.Practice
	page *shell.Page
}

type page struct {
	insight.ProgressView
	Wide, Narrow           figures.Levels
	WideTrend, NarrowTrend figures.Trend
	SetbackEdit            shell.Form
	Whole                  bool
}

// Mount puts the page under /plans/:id/progress.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "progress.html")}
	routes.Get("/plans/:id/progress", func(c fiber.Ctx) error { return s.show(c, fiber.StatusOK, nil) })
	routes.Get("/plans/:id/progress/:file", s.file)
	routes.Post("/plans/:id/setbacks", s.add)
	routes.Post("/plans/:id/setbacks/:setback/away", s.takeBack)
}

func (s screen) show(c fiber.Ctx, status int, form *shell.Form) error {
	v, err := s.p.Progress(c.Context(), c.Params("id"), c.Query("with"))
	if err != nil {
		return err
	}
	pg := page{ProgressView: v, SetbackEdit: shell.Form{Typed: v.SetbackForm}, Whole: c.Query("whole") != ""}
	if form != nil {
		pg.SetbackEdit = *form
	}
	pg.draw()
	return s.sh.Render(c, s.page, status, shell.View{Title: "Progress · " + v.Skill + " · " + v.Dog, Nav: "dogs", V: pg})
}

func (pg *page) draw() {
	var steps []figures.LevelStep
	for _, st := range pg.Steps {
		steps = append(steps, figures.LevelStep{ID: st.ID, Name: st.Short, At: st.Reached, Description: st.Name})
	}
	var sets []figures.LevelSet
	for _, p := range pg.Points {
		sets = append(sets, figures.LevelSet{
			Step: p.Step, Met: p.Met, Size: p.Size, Full: p.Full, Part: p.Part, New: p.New, Session: p.Session,
			Day: app.ShortDay(p.Day, pg.Today), Place: p.Place,
		})
	}
	var sessions []figures.TrendSession
	for _, f := range pg.Sessions {
		sessions = append(sessions, figures.TrendSession{
			Session: f.ID, Day: app.ShortDay(f.Day, pg.Today), Place: f.Place, Met: f.Tally.Met, Right: f.Tally.Right(), N: f.Tally.N(),
			Lo: f.Strict.Lo, Hi: f.Strict.Hi, Median: f.Median, P90: f.P90, Cold: f.Cold, ColdSays: f.ColdSays, Helped: f.Tally.Helped,
		})
	}
	var setbacks []figures.SetbackAt
	for _, one := range pg.Setbacks {
		setbacks = append(setbacks, figures.SetbackAt{Session: one.Session, Title: one.Day + ": " + one.What})
	}
	base := "/plans/" + pg.ID
	look := figures.Look{Width: 1100, Whole: pg.Whole, Today: "now", Word: pg.Met, Base: base}
	pg.Wide = figures.DrawLevels(look, steps, sets)
	look.Width, look.Narrow = 358, true
	pg.Narrow = figures.DrawLevels(look, steps, sets)
	pg.WideTrend = figures.DrawTrend(pg.Wide, sessions, setbacks)
	pg.NarrowTrend = figures.DrawTrend(pg.Narrow, sessions, setbacks)
}

func (s screen) file(c fiber.Ctx) error {
	t, err := s.p.ProgressTable(c.Context(), c.Params("id"), c.Query("with"), strings.TrimSuffix(c.Params("file"), ".csv"))
	if err != nil {
		return err
	}
	return shell.CSV(c, t)
}

func (s screen) add(c fiber.Ctx) error {
	typed := shell.Typed(c)
	err := s.p.AddSetback(c.Context(), c.Params("id"), typed)
	if form, status, ok := shell.Problems(typed, err); ok {
		return s.show(c, status, &form)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/plans/"+c.Params("id")+"/progress#setbacks")
}

func (s screen) takeBack(c fiber.Ctx) error {
	if err := s.p.DeleteSetback(c.Context(), c.Params("setback")); err != nil {
		return err
	}
	return shell.See(c, "/plans/"+c.Params("id")+"/progress#setbacks")
}
