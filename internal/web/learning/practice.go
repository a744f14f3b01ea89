package learning

import (
	"fmt"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/say"
	"patientfox/internal/app/forecasts"
	"patientfox/internal/app/learning"
	"patientfox/internal/practice"
	"patientfox/internal/web/figures"
	"patientfox/internal/web/shell"
)

type practicePage struct {
	learning.PracticeView
	Drawn       []skill
	Came        forecasts.CameView
	CameSays    string
	Foreseen    []foreseen
	Axis        figures.Sessions // of what was foreseen
	Reliability *figures.Reliability
}

// skill is one of the practice's, with what is drawn of its steps.
type skill struct {
	learning.SkillRow
	Rows []step
	Axis figures.Sessions
}

type step struct {
	learning.StepRow
	Figure figures.Sessions
}

// foreseen is a plan's forecast beside what came.
type foreseen struct {
	forecasts.CameRow
	Figure figures.Sessions
}

// Climbed is how far it came.
func (f foreseen) Climbed() string { return say.Count(f.Steps, "step") }

// Says is what the drawing shows, in words.
func (f foreseen) Says() string { return fmt.Sprintf("took %d, likely %d to %d", f.Took, f.Lo, f.Hi) }

func mountPractice(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	show := sh.Page(templates, "practice.html")
	routes.Get("/learning", func(c fiber.Ctx) error {
		v, err := p.PracticeLearning()
		if err != nil {
			return err
		}
		came, err := p.ForecastsCame()
		if err != nil {
			return err
		}
		return sh.Render(c, show, fiber.StatusOK, shell.View{Title: "Learning over all dogs", Nav: "dogs", V: draw(v, came)})
	})
}

// maxShown bounds the axis of forecasts.
const maxShown = 150

func draw(v learning.PracticeView, came forecasts.CameView) practicePage {
	pg := practicePage{PracticeView: v, Came: came, Reliability: shell.DrawCame(v.Predictions)}
	for _, row := range v.Skills {
		one := skill{SkillRow: row, Axis: figures.DrawSessions(240, 22, row.Most, nil, nil)}
		for _, s := range row.Steps {
			var sessions []int
			var stuck []bool
			for _, d := range s.Dogs {
				sessions, stuck = append(sessions, d.Sessions), append(stuck, d.Stuck)
			}
			one.Rows = append(one.Rows, step{s, figures.DrawSessions(240, 22, row.Most, sessions, stuck)})
		}
		pg.Drawn = append(pg.Drawn, one)
	}
	most := 1
	for _, row := range came.Plans {
		most = max(most, row.Took, row.Hi)
	}
	most = min(most, maxShown)
	pg.Axis = figures.DrawSessions(240, 22, most, nil, nil)
	for _, row := range came.Plans {
		pg.Foreseen = append(pg.Foreseen, foreseen{row, figures.DrawForeseen(240, 22, most, row.Lo, row.Mid, row.Hi, row.Took)})
	}
	pg.CameSays = fmt.Sprintf("%d of %s took as many sessions as their range says", came.Held, say.Count(len(came.Plans), "plan"))
	if came.Last {
		pg.CameSays = "Of the plans worked last, " + pg.CameSays
	}
	if came.Sooner > 0 {
		pg.CameSays += fmt.Sprintf(", %d fewer", came.Sooner)
	}
	if came.Later > 0 {
		pg.CameSays += fmt.Sprintf(", %d more", came.Later)
	}
	pg.CameSays += "."
	return pg
}
