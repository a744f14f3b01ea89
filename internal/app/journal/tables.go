package journal

import (
	"fmt"
	"slices"
	"strings"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// values are the columns of a row, as JSON reads them.
type values map[string]any

func (v values) text(column string) string {
	text, _ := v[column].(string)
	return text
}

func (v values) number(column string) float64 {
	n, _ := v[column].(float64)
	return n
}

// field is a column with what it is called, and how a value of it is said; nil says it as it was typed, long texts not at all.
type field struct {
	column, label string
	says          func(n *names, value any) string
}

// table is how rows of one kind are spoken of.
type table struct {
	area   string
	name   func(n *names, id string, row values) string // what it is, to begin a sentence with
	fields []field
	verbs  [2]string // added and removed; "" as usual
}

// areas are what the journal can be narrowed to.
var areas = []struct{ code, label string }{
	{"dogs", "Dogs and health"}, {"plans", "Plans"}, {"sessions", "Sessions and the week"}, {"food", "Rewards and food"}, {"care", "Care"},
	{"home", "Homework and households"}, {"classes", "Classes"}, {"team", "Colleagues"}, {"practice", "People and settings"},
}

var tables = map[string]table{
	"practice": {
		area: "practice", name: says("The practice"), verbs: [2]string{"began", ""},
		fields: []field{
			{"name", "name", nil}, {"zone", "time zone", nil}, {"length", "unit of distances", nil}, {"pace_m", "one pace", unit("m")},
			{"hours", "working hours", changes}, {"states", "the five states", changes}, {"person", "whose machine it is", person},
		},
	},
	"people": {
		area: "practice", name: named("", "name"),
		fields: []field{{"name", "name", nil}, {"role", "role", nil}, {"owner", "owner", yes}},
		verbs:  [2]string{"added to the practice", ""},
	},
	"logins": {
		area: "practice", name: func(n *names, id string, _ values) string { return "Password of " + n.person(id) },
		verbs: [2]string{"set", "removed"},
	},
	"device": {
		area: "practice", verbs: [2]string{"paired", "unpaired"},
		name: func(n *names, _ string, row values) string {
			return "Device " + quoted(row.text("name")) + " of " + n.person(row.text("person"))
		},
	},
	"passkey": {
		area: "practice", verbs: [2]string{"made", "forgotten"},
		name: func(n *names, _ string, row values) string {
			return "Passkey " + quoted(row.text("name")) + " of " + n.person(row.text("person"))
		},
	},
	"devices": {
		area: "practice", verbs: [2]string{"", "unpaired"},
		name: func(n *names, id string, _ values) string { return "All devices of " + n.person(id) },
	},
	"places": {
		area: "practice", name: named("Place", "name"),
		fields: []field{{"name", "name", nil}, {"bans", "what is not used there", list}},
	},
	"dimensions": {
		area: "practice", fields: []field{{"body", "it", changes}},
		name: func(_ *names, id string, _ values) string { return "Dimension " + quoted(id) },
	},
	"templates": {area: "plans", name: named("Template", "name"), fields: []field{{"name", "name", nil}}},
	"dogs": {
		area: "dogs", name: named("", "name"),
		fields: []field{
			{"name", "name", nil}, {"born", "date of birth", day}, {"weight_kg", "weight", unit("kg")}, {"household", "household", nil},
			{"flags", "caution", nil}, {"notes", "notes", nil}, {"feeding", "feeding", changes}, {"routine", "routine", changes},
		},
	},
	"contacts": {
		area: "dogs", name: says("Contacts"),
		fields: []field{{"vet", "vet", nil}, {"emergency", "emergency", nil}, {"photos", "photos allowed", nil}, {"agreed", "agreed by", nil}},
	},
	"health": {
		area: "dogs", name: healthName,
		fields: []field{{"what", "what", nil}, {"said", "what was said", nil}, {"kg", "weight", unit("kg")}, {"over", "last day", day}},
	},
	"definitions": {area: "plans", name: planOfSkill},
	"plans": {
		area: "plans", name: planName, verbs: [2]string{"laid out", ""},
		fields: []field{{"track", "track", nil}, {"main_handler", "main handler", person}, {"released", "released for home", moment}},
	},
	"plan_versions": {area: "plans", name: planName},
	"breaches": {
		area: "plans", name: ofPlan("Incident", "what"), verbs: [2]string{"noted", ""},
		fields: []field{{"what", "what", nil}, {"note", "note", nil}},
	},
	"setbacks": {
		area: "plans", verbs: [2]string{"noted", ""},
		name: func(n *names, id string, row values) string {
			steps := say.Count(int(row.number("steps")), "step")
			return fmt.Sprintf("Setback %s of %s in %s", quoted(row.text("what")), steps, n.plan(row.text("plan")))
		},
	},
	"shown": {
		area: "plans", verbs: [2]string{"noted", ""},
		name: func(n *names, id string, row values) string {
			return "Sign-off of " + n.person(row.text("person")) + " in " + n.plan(row.text("plan"))
		},
	},
	"experiments": {
		area: "plans", verbs: [2]string{"planned", ""}, fields: []field{{"ended", "stopped", moment}},
		name: func(n *names, id string, row values) string {
			return fmt.Sprintf("Experiment %s or %s in %s", quoted(row.text("way_a")), quoted(row.text("way_b")), n.plan(row.text("plan")))
		},
	},
	"rewards": {
		area: "food", name: named("Reward", "name"),
		fields: []field{
			{"name", "name", nil}, {"kind", "kind", nil}, {"grams", "weight of a piece", unit("g")}, {"kcal", "energy of a piece", unit("kcal")},
			{"contains", "contents", list}, {"not_at", "places without it", changes}, {"note", "note", nil}, {"tier", "value set by hand", tier},
			{"tested", "value by the test", tier},
		},
	},
	"reward_days": {
		area: "food", fields: []field{{"tier", "value", tier}},
		name: func(n *names, id string, row values) string {
			return fmt.Sprintf("Value of %s for %s", quoted(n.called[row.text("reward")]), n.day(row.text("day")))
		},
	},
	"tests": {
		area: "food", fields: []field{{"done", "done", moment}},
		name: func(n *names, id string, row values) string { return "Preference test of " + n.day(row.text("day")) },
	},
	"eaten": {
		area: "food",
		name: func(n *names, id string, row values) string {
			return fmt.Sprintf("Food of %s: %s, %s kcal", n.day(row.text("day")), quoted(row.text("what")), criteria.Figure(row.number("kcal")))
		},
	},
	"sheets": {
		area: "sessions", fields: []field{
			{"day", "day", day}, {"start", "time", clock}, {"minutes", "length", unit("min")}, {"household", "with the household", yes},
			{"place", "place", place}, {"handler", "handler", person},
		},
		name: func(n *names, id string, row values) string {
			return fmt.Sprintf("Session plan for %s, %s", n.day(row.text("day")), clock(n, row["start"]))
		},
	},
	"sessions": {area: "sessions", name: func(n *names, id string, row values) string {
		return "Session of " + n.s.Moment(int64(row.number("opened")))
	}},
	"care_tasks": {
		area: "care", name: named("Care task", "name"),
		fields: []field{
			{"name", "name", nil}, {"sites", "sites", list}, {"every_days", "every", unit("days")}, {"course_days", "course", unit("days")},
			{"per_day", "times a day", figure}, {"from_day", "first day", day}, {"whose", "who says how", nil}, {"named", "whose word", nil},
			{"said", "what was said", nil}, {"skill", "skill", changes},
		},
	},
	"care_done": {
		area: "care", verbs: [2]string{"noted as done", ""},
		name: func(n *names, id string, row values) string {
			return fmt.Sprintf("%s, %s, %s", quoted(n.called[row.text("task")]), quoted(row.text("site")), n.day(row.text("day")))
		},
	},
	"care_marks": {
		area: "care", name: func(n *names, id string, row values) string {
			return "Mark " + quoted(row.text("mark")) + " on " + quoted(row.text("site"))
		},
		fields: []field{{"mark", "mark", nil}, {"said", "what was said", nil}},
	},
	"homework": {
		area: "home", verbs: [2]string{"handed out", ""},
		name: func(n *names, id string, row values) string { return "Homework for " + n.person(row.text("person")) },
	},
	"homework_lines": {
		area: "home", verbs: [2]string{"entered", ""}, name: lineName,
	},
	"house": {
		area: "home", name: says("House rules"),
		fields: []field{{"never", "“Never”", nil}, {"invited", "“When invited”", nil}, {"always", "“Always”", nil}},
	},
	"link": {
		area: "home", verbs: [2]string{"made", "ended"},
		name: func(n *names, id string, row values) string {
			return "Homework link of " + n.person(row.text("person"))
		},
	},
	"recaps": {
		area: "home", verbs: [2]string{"saved", ""},
		fields: []field{{"praise", "praise", nil}, {"line", "line from the trainer", nil}, {"skills", "what is said of the skills", changes}},
		name:   func(n *names, id string, row values) string { return "Recap of the week to " + n.day(row.text("day")) },
	},
	"letters": {
		area: "home", fields: []field{{"entered", "its lines entered", moment}},
		name: func(n *names, id string, row values) string {
			return map[string]string{"out": "Message sent: ", "in": "Message received: "}[row.text("box")] + quoted(row.text("subject"))
		},
		verbs: [2]string{"kept", ""},
	},
	"classes": {
		area: "classes", name: named("Class", "name"),
		fields: []field{
			{"name", "name", nil}, {"start", "first meeting", day}, {"at", "time", nil}, {"minutes", "length", unit("min")}, {"place", "place", nil},
			{"programme", "programme", changes},
		},
		verbs: [2]string{"began", ""},
	},
	"class_dogs": {
		area: "classes", fields: []field{{"joined", "first week", figure}, {"plans", "plans", changes}}, verbs: [2]string{"joined", "left"},
		name: func(n *names, id string, row values) string {
			return fmt.Sprintf("%s in class %s", n.dogs[row.text("dog")], quoted(n.called[row.text("class")]))
		},
	},
	"class_meetings": {
		area: "classes", verbs: [2]string{"noted", ""},
		fields: []field{{"note", "note", nil}, {"missed", "who was absent", dogsOf}},
		name: func(n *names, id string, row values) string {
			return fmt.Sprintf("Week %s of class %s", criteria.Figure(row.number("week")), quoted(n.called[row.text("class")]))
		},
	},
	"programmes": {
		area: "classes", fields: []field{{"body", "it", changes}},
		name: func(n *names, id string, row values) string {
			var body struct {
				Name string `json:"name"`
			}
			store.FromJSON(row.text("body"), &body) //nolint:errcheck // a name that cannot be read is left out
			return strings.TrimSpace("Programme " + quoted(body.Name))
		},
	},
	"assignments": {
		area: "team", verbs: [2]string{"assigned", "not assigned any more"}, fields: []field{{"person", "who", person}},
		name: func(n *names, _ string, row values) string {
			return n.day(row.text("day")) + " with " + n.person(row.text("person"))
		},
	},
	"notes": {
		area: "team", verbs: [2]string{"written", ""}, fields: []field{{"done", "dealt with", moment}},
		name: func(n *names, _ string, row values) string {
			if whom := row.text("whom"); whom != "" {
				return "Note to " + n.person(whom) + " " + quoted(row.text("text"))
			}
			return "Note to all " + quoted(row.text("text"))
		},
	},
}

func says(what string) func(*names, string, values) string {
	return func(*names, string, values) string { return what }
}

// named is what a row is, by a column.
func named(what, column string) func(*names, string, values) string {
	return func(_ *names, _ string, row values) string {
		if what == "" {
			return row.text(column)
		}
		return what + " " + quoted(row.text(column))
	}
}

// ofPlan is what a row of a plan is, by a column.
func ofPlan(what, column string) func(*names, string, values) string {
	return func(n *names, _ string, row values) string {
		return what + " " + quoted(row.text(column)) + " in " + n.plan(row.text("plan"))
	}
}

func planName(n *names, id string, _ values) string {
	plan, _, _ := strings.Cut(id, "/")
	return "Plan " + n.plan(plan)
}

func planOfSkill(n *names, id string, _ values) string {
	skill, _, _ := strings.Cut(id, "/")
	return "What counts as met in " + quoted(n.called[skill])
}

func healthName(n *names, _ string, row values) string {
	on := " of " + n.day(row.text("day"))
	switch row.text("kind") {
	case "weight":
		return "Weight" + on + ": " + criteria.Figure(row.number("kg")) + " kg"
	case "sore":
		return "Sore: " + quoted(row.text("what")) + on
	case "medicine":
		return "Medicine " + quoted(row.text("what")) + on
	case "seen":
		return "Visit to the vet" + on
	}
	return "Health note" + on
}

func lineName(n *names, _ string, row values) string {
	result := fmt.Sprintf("%s of %s", criteria.Figure(row.number("met")), criteria.Figure(row.number("of")))
	if of := row.number("relaxed") + row.number("unsure") + row.number("worried"); of > 0 {
		result = fmt.Sprintf("%s of %s relaxed", criteria.Figure(row.number("relaxed")), criteria.Figure(of))
	}
	who, what, when := n.person(row.text("person")), n.plan(row.text("plan")), n.day(row.text("day"))
	return fmt.Sprintf("Homework of %s in %s: %s on %s", who, what, result, when)
}

// changes says no values: that it changed is all.
func changes(*names, any) string { return "" }

func unit(u string) func(*names, any) string {
	return func(_ *names, value any) string {
		if x, is := value.(float64); is {
			return criteria.Figure(x) + " " + u
		}
		return ""
	}
}

func figure(_ *names, value any) string {
	x, _ := value.(float64)
	return criteria.Figure(x)
}

func tier(_ *names, value any) string {
	if x, _ := value.(float64); x > 0 {
		return criteria.Figure(x)
	}
	return ""
}

func yes(_ *names, value any) string {
	if x, _ := value.(float64); x > 0 {
		return "yes"
	}
	return "no"
}

func clock(_ *names, value any) string {
	x, _ := value.(float64)
	return form.ClockOf(int(x))
}

func day(n *names, value any) string {
	text, _ := value.(string)
	if text == "" {
		return ""
	}
	return n.day(text)
}

// happened begins a moment at which something was done: "stopped on …", not "stopped set to …".
const happened = "on "

func moment(n *names, value any) string {
	if ms, _ := value.(float64); ms > 0 {
		return happened + n.s.Moment(int64(ms))
	}
	return ""
}

func person(n *names, value any) string {
	id, _ := value.(string)
	if id == "" {
		return ""
	}
	return n.person(id)
}

func place(n *names, value any) string {
	id, _ := value.(string)
	if name, is := n.called[id]; is {
		return quoted(name)
	}
	return ""
}

func words(value any) (items []string) {
	text, _ := value.(string)
	store.FromJSON(text, &items) //nolint:errcheck // what is no list has no words
	return items
}

func list(_ *names, value any) string {
	items := words(value)
	for i, item := range items {
		if label := reinforce.LabelOf(reinforce.Bans, item); label != "" {
			items[i] = label
		}
	}
	if len(items) == 0 {
		return ""
	}
	return strings.Join(items, ", ")
}

func dogsOf(n *names, value any) string {
	var items []string
	for _, id := range words(value) {
		items = append(items, n.dogs[id])
	}
	if len(items) == 0 {
		return ""
	}
	slices.Sort(items)
	return strings.Join(items, ", ")
}

// quoted puts a name that somebody typed between quotation marks.
func quoted(name string) string { return "“" + name + "”" }

// day is a day (YYYY-MM-DD) as the journal writes it.
func (n *names) day(text string) string {
	at, err := time.Parse(time.DateOnly, text)
	if err != nil {
		return text
	}
	return at.Format("2 Jan 2006")
}
