// Package rewards has the pages of what one dog works for and eats: its rewards, the preference test, and its food
// of the day.
package rewards

import (
	"embed"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/form"
	"patientfox/internal/app/rewards"
	"patientfox/internal/practice"
	"patientfox/internal/web/figures"
	"patientfox/internal/web/shell"
)

//go:embed *.html
var templates embed.FS

type screen struct {
	sh                  *shell.Shell
	p                   *practice.Practice
	rewards, test, food *shell.Page
}

// Mount puts the pages under /dogs/:id and /tests.
func Mount(routes fiber.Router, sh *shell.Shell, p *practice.Practice) {
	s := screen{sh, p, sh.Page(templates, "rewards.html"), sh.Page(templates, "test.html"), sh.Page(templates, "food.html")}
	routes.Get("/dogs/:id/rewards", func(c fiber.Ctx) error { return s.showRewards(c, fiber.StatusOK, "", shell.Form{}) })
	routes.Post("/dogs/:id/rewards", s.save)
	routes.Post("/dogs/:id/rewards/today", s.today)
	routes.Post("/dogs/:id/rewards/:reward/away", s.away)
	routes.Post("/dogs/:id/tests", s.begin)
	routes.Get("/tests/:test", s.showTest)
	routes.Post("/tests/:test", s.choose)
	routes.Post("/tests/:test/undo", s.undo)
	routes.Post("/tests/:test/take", s.take)
	routes.Post("/tests/:test/away", s.drop)
	routes.Get("/dogs/:id/food", func(c fiber.Ctx) error { return s.showFood(c, fiber.StatusOK, "", shell.Form{}) })
	routes.Post("/dogs/:id/food", s.feed)
	routes.Post("/dogs/:id/food/eaten", s.ate)
	routes.Post("/dogs/:id/food/eaten/:eaten/away", s.notEaten)
}

// rewardForm is one reward with its form.
type rewardForm struct {
	rewards.RewardRow
	Edit shell.Form
	Open bool
}

type rewardGroup struct {
	rewards.RewardTier
	Rows []rewardForm
}

type rewardsPage struct {
	rewards.RewardsView
	Groups   []rewardGroup
	Add      shell.Form
	Test     shell.Form
	TodayAt  []shell.Option
	Today    shell.Form // what differs today, where it could not be saved
	JustPut  string
	OpenTest bool
}

var todayOptions = []shell.Option{
	{Value: "", Label: "as usual"}, {Value: "0", Label: "not today"}, {Value: "5", Label: "5 today"},
	{Value: "4", Label: "4 today"}, {Value: "3", Label: "3 today"}, {Value: "2", Label: "2 today"},
	{Value: "1", Label: "1 today"},
}

// showRewards shows the page; which form came back with problems: the id of a reward, "new" or "test".
func (s screen) showRewards(c fiber.Ctx, status int, which string, shown shell.Form) error {
	v, err := s.p.Rewards(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	pg := rewardsPage{
		RewardsView: v, Add: shell.Form{Typed: form.Typed{"kind": "food"}}, Test: shell.Form{Typed: form.Typed{}},
		TodayAt: todayOptions, JustPut: c.Query("put"),
	}
	switch which {
	case "new":
		pg.Add = shown
	case "today":
		pg.Today = shown
	case "test":
		pg.Test, pg.OpenTest = shown, true
	}
	pg.Add.Name, pg.Test.Name = "new", "test"
	for _, tier := range v.Tiers {
		group := rewardGroup{RewardTier: tier}
		for _, row := range tier.Rewards {
			one := rewardForm{RewardRow: row, Edit: shell.Form{Typed: row.Form}}
			if which == row.ID {
				one.Edit, one.Open = shown, true
			}
			one.Edit.Name = row.ID
			group.Rows = append(group.Rows, one)
		}
		pg.Groups = append(pg.Groups, group)
	}
	return s.sh.Render(c, s.rewards, status, shell.View{Title: "Rewards of " + v.Name, Nav: "dogs", V: pg})
}

func (s screen) save(c fiber.Ctx) error {
	typed := shell.Typed(c)
	err := s.p.SaveReward(c.Context(), c.Params("id"), typed)
	if form, status, ok := shell.Problems(typed, err); ok {
		which := typed.Text("id")
		if which == "" {
			which = "new"
		}
		return s.showRewards(c, status, which, form)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/dogs/"+c.Params("id")+"/rewards")
}

func (s screen) today(c fiber.Ctx) error {
	typed := shell.Typed(c)
	err := s.p.SetRewardToday(c.Context(), c.Params("id"), typed)
	if form, status, ok := shell.Problems(typed, err); ok {
		return s.showRewards(c, status, "today", form)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/dogs/"+c.Params("id")+"/rewards")
}

func (s screen) away(c fiber.Ctx) error {
	back := c.FormValue("back") != ""
	if err := s.p.DeleteReward(c.Context(), c.Params("reward"), !back); err != nil {
		return err
	}
	to := "/dogs/" + c.Params("id") + "/rewards"
	if !back {
		to += "?put=" + c.Params("reward")
	}
	return shell.See(c, to)
}

func (s screen) begin(c fiber.Ctx) error {
	typed := shell.Typed(c)
	id, err := s.p.StartTest(c.Context(), c.Params("id"), typed)
	if form, status, ok := shell.Problems(typed, err); ok {
		return s.showRewards(c, status, "test", form)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/tests/"+id)
}

type testPage struct {
	rewards.PreferenceView
	Figure figures.Strengths
}

func (s screen) showTest(c fiber.Ctx) error {
	v, err := s.p.Preference(c.Context(), c.Params("test"), c.Query("more") != "")
	if err != nil {
		return err
	}
	rows := make([]figures.Strength, len(v.Rows))
	for i, r := range v.Rows {
		rows[i] = figures.Strength{Name: r.Name, At: r.At, Lo: r.LoAt, Hi: r.HiAt, Tier: r.Tier}
	}
	page := testPage{v, figures.DrawStrengths(360, rows)}
	return s.sh.Render(c, s.test, fiber.StatusOK, shell.View{Title: "Preference test · " + v.Dog, Nav: "dogs", Bare: true, V: page})
}

func (s screen) choose(c fiber.Ctx) error {
	if err := s.p.Choose(c.Context(), c.Params("test"), shell.Typed(c)); err != nil {
		return err
	}
	return shell.See(c, "/tests/"+c.Params("test"))
}

func (s screen) undo(c fiber.Ctx) error {
	if err := s.p.UndoChoice(c.Context(), c.Params("test")); err != nil {
		return err
	}
	return shell.See(c, "/tests/"+c.Params("test"))
}

func (s screen) take(c fiber.Ctx) error {
	dog, err := s.p.TakeTiers(c.Context(), c.Params("test"))
	if err != nil {
		return err
	}
	return shell.See(c, "/dogs/"+dog+"/rewards")
}

func (s screen) drop(c fiber.Ctx) error {
	dog, err := s.p.DropTest(c.Context(), c.Params("test"))
	if err != nil {
		return err
	}
	return shell.See(c, "/dogs/"+dog+"/rewards")
}

type foodPage struct {
	rewards.FoodView
	Feeding, Eaten shell.Form
	Edit           bool
	Figure         figures.Day
}

func (s screen) showFood(c fiber.Ctx, status int, which string, shown shell.Form) error {
	v, err := s.p.Food(c.Context(), c.Params("id"))
	if err != nil {
		return err
	}
	pg := foodPage{
		FoodView: v, Feeding: shell.Form{Typed: v.Form}, Eaten: shell.Form{Typed: form.Typed{}},
		Edit: !v.Known || c.Query("edit") != "",
	}
	switch which {
	case "feeding":
		pg.Feeding, pg.Edit = shown, true
	case "eaten":
		pg.Eaten = shown
	}
	pg.Feeding.Name, pg.Eaten.Name = "feeding", "eaten"
	pg.Figure = figures.DrawDay(640, v.Budget.Need, v.Budget.Allowed, v.Budget.Eaten, v.Budget.Planned)
	return s.sh.Render(c, s.food, status, shell.View{Title: "Food of " + v.Name, Nav: "dogs", V: pg})
}

func (s screen) feed(c fiber.Ctx) error {
	return s.foodForm(c, "feeding", s.p.SaveFeeding)
}

func (s screen) ate(c fiber.Ctx) error { return s.foodForm(c, "eaten", s.p.AddEaten) }

func (s screen) foodForm(c fiber.Ctx, which string, save shell.Save) error {
	typed := shell.Typed(c)
	err := save(c.Context(), c.Params("id"), typed)
	if form, status, ok := shell.Problems(typed, err); ok {
		return s.showFood(c, status, which, form)
	}
	if err != nil {
		return err
	}
	return shell.See(c, "/dogs/"+c.Params("id")+"/food")
}

func (s screen) notEaten(c fiber.Ctx) error {
	if err := s.p.DeleteEaten(c.Context(), c.Params("eaten")); err != nil {
		return err
	}
	return shell.See(c, "/dogs/"+c.Params("id")+"/food")
}
