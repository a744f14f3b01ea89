package shell

import (
	"fmt"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app"
	"patientfox/internal/exchange"
)

// newPlanPages are the links between the pages of one plan; here names the one that is shown.
func newPlanPages(plan, here string) []entry {
	var list []entry
	for _, page := range []struct{ name, label string }{
		{"plan", "Plan"}, {"pay", "Pay"}, {"progress", "Progress"}, {"evidence", "Evidence"}, {"load", "Load"}, {"outlook", "Outlook"},
		{"experiment", "Experiment"}, {"verdicts", "Verdicts"},
	} {
		href := "/plans/" + plan
		if page.name != "plan" {
			href += "/" + page.name
		}
		list = append(list, entry{Lit: page.name == here, Href: href, Label: page.label})
	}
	return list
}

// newDogPages are the links between the pages of one dog; here names the one that is shown.
func newDogPages(dog, here string) []entry {
	var list []entry
	for _, page := range []struct{ name, label string }{
		{"skills", "Skills"}, {"sessions", "Sessions"}, {"learning", "Learning"}, {"rewards", "Rewards"}, {"food", "Food"}, {"care", "Care"},
		{"health", "Health"}, {"takeover", "Taking over"}, {"homework", "Homework"}, {"recap", "Recap"},
	} {
		href := "/dogs/" + dog
		if page.name != "skills" {
			href += "/" + page.name
		}
		list = append(list, entry{Lit: page.name == here, Href: href, Label: page.label})
	}
	return list
}

// rowsShown is how many rows of a table are on a page; its file has them all.
const rowsShown = 25

// table is a table on a page.
type table struct {
	app.Table
	Href string // of its file
}

// newTable puts a table on a page whose files lie under base; with a query, they are asked for with it.
func newTable(t app.Table, base string) table {
	path, query, asked := strings.Cut(base, "?")
	if path += "/" + t.Key + ".csv"; asked {
		path += "?" + query
	}
	return table{t, path}
}

// Shown are the rows on the page.
func (t table) Shown() [][]string { return t.Rows[:min(len(t.Rows), rowsShown)] }

// More says how many there are beside them.
func (t table) More() string {
	if n := len(t.Rows) - rowsShown; n > 0 {
		return fmt.Sprintf("The first %d of %d rows; the file has them all.", rowsShown, len(t.Rows))
	}
	return ""
}

// CSV answers with a table's file.
func CSV(c fiber.Ctx, t app.Table) error {
	c.Set(fiber.HeaderContentType, "text/csv; charset=utf-8")
	c.Set(fiber.HeaderContentDisposition, `attachment; filename="`+t.Key+`.csv"`)
	c.Set(fiber.HeaderCacheControl, "private, no-store")
	return c.Send(exchange.CSV(t.Head, t.Rows))
}
