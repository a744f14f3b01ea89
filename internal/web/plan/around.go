package plan

import (
	"context"
	"fmt"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/work"
	"patientfox/internal/app/form"
	"patientfox/internal/web/shell"
)

// managementRow names the two fields of one line of management.
type managementRow struct{ Not, Instead string }

// spareLines is how many empty lines the form of the management has.
const spareLines = 2

// ManagementRows are the lines of the management's form: those there are, and some to write in.
func (pg page) ManagementRows() []managementRow {
	var rows []managementRow
	for i := 1; i <= min(12, len(pg.Management)+spareLines); i++ {
		rows = append(rows, managementRow{fmt.Sprintf("not%d", i), fmt.Sprintf("instead%d", i)})
	}
	return rows
}

// errorRow names the two fields of one error.
type errorRow struct{ Name, Spoils string }

// ErrorRows are the lines of the form of errors: as many as the board has keys for.
func (pg page) ErrorRows() (rows []errorRow) {
	for i := range work.MaxErrors {
		rows = append(rows, errorRow{fmt.Sprintf("error%d", i+1), fmt.Sprintf("spoils%d", i+1)})
	}
	return rows
}

// phaseRow names the two fields of one phase, by its number.
type phaseRow struct{ N, Label, Name, Seconds string }

// PhaseRows are the lines of the form of phases.
func (pg page) PhaseRows() (rows []phaseRow) {
	for i := range work.MaxPhases {
		n := strconv.Itoa(i + 1)
		rows = append(rows, phaseRow{n, "Phase " + n, "phase" + n, "phase_s" + n})
	}
	return rows
}

// PhaseOptions are the phases that one can be picked of: the one that lasts as long as the step asks, the one with a meal in it.
func (pg page) PhaseOptions() (list []shell.Option) {
	for _, row := range pg.PhaseRows() {
		list = append(list, shell.Option{Value: row.N, Label: row.Label})
	}
	return list
}

// deckRow names the field of one line of the deck's form.
type deckRow struct{ Name, Label, Hint string }

// DeckRows are the lines of the form of the deck.
func (pg page) DeckRows() (rows []deckRow) {
	for _, key := range library.DeckKeys {
		d, _ := criteria.Find(key)
		rows = append(rows, deckRow{"deck_" + string(key), d.Label, d.Hint})
	}
	return rows
}

// around fills the forms of what is around the steps: as saved, or as they came back.
func (pg *page) around(f forms) {
	management := form.Typed{"props": pg.Props, "method": pg.Method}
	for i, m := range pg.Management {
		management[fmt.Sprintf("not%d", i+1)], management[fmt.Sprintf("instead%d", i+1)] = m.Not, m.Instead
	}
	cue := form.Typed{"cue_new": pg.Cueing.New, "cue_old": pg.Cueing.Old, "cue_added": pg.Cueing.Added}
	for _, one := range []struct {
		to    *shell.Form
		back  *shell.Form
		typed form.Typed
		name  string
	}{
		{&pg.NeedEdit, f.need, form.Typed{}, "need"}, {&pg.ManagementEdit, f.management, management, "management"},
		{&pg.PhasesEdit, f.phases, pg.PhasesForm, "phases"},
		{&pg.EngagedEdit, f.engaged, form.Typed{"engaged": strings.Join(pg.Engaged, "\n")}, "engaged"},
		{&pg.DeckEdit, f.deck, pg.DeckForm, "deck"},
		{&pg.RestEdit, f.rest, form.Typed{"rest_min": pg.RestMin}, "rest"},
		{&pg.DecoysEdit, f.decoys, form.Typed{"decoy_in": strconv.Itoa(pg.DecoyIn)}, "decoys"},
		{&pg.ErrorsEdit, f.errors, pg.ErrorsForm, "errors"},
		{&pg.BreachEdit, f.breach, form.Typed{}, "breach"}, {&pg.CueEdit, f.cue, cue, "cue"},
		{&pg.HandsEdit, f.hands, form.Typed{"main": pg.Handling.Main}, "hands"},
		{&pg.ShownEdit, f.shown, form.Typed{}, "shown"},
		{&pg.TrackEdit, f.track, form.Typed{}, "track"}, {&pg.TemplateEdit, f.template, form.Typed{"name": pg.Skill}, "template"},
	} {
		*one.to = shell.Form{Typed: one.typed}
		if one.back != nil {
			*one.to = *one.back
		}
		one.to.Name = one.name
	}
}

// saves answers a form of one part of the plan.
func (s screen) saves(
	save func(ctx context.Context, plan string, t form.Typed) error, part string, of func(*forms) **shell.Form,
) fiber.Handler {
	return func(c fiber.Ctx) error {
		typed := shell.Typed(c)
		err := save(c.Context(), c.Params("id"), typed)
		return s.answer(c, err, typed, func(f *forms, form *shell.Form) { *of(f) = form }, "#"+part)
	}
}

func (s screen) takeBack(c fiber.Ctx) error {
	if err := s.p.DeleteBreach(c.Context(), c.Params("breach")); err != nil {
		return err
	}
	return shell.See(c, "/plans/"+c.Params("id")+"#between")
}

func (s screen) addTrack(c fiber.Ctx) error {
	typed := shell.Typed(c)
	id, err := s.p.AddTrack(c.Context(), c.Params("id"), typed)
	if err == nil {
		return shell.See(c, "/plans/"+id)
	}
	return s.answer(c, err, typed, func(f *forms, form *shell.Form) { f.track = form }, "#tracks")
}

func (s screen) keep(c fiber.Ctx) error {
	typed := shell.Typed(c)
	to, err := s.p.SaveTemplate(c.Context(), c.Params("id"), typed)
	if err == nil {
		return shell.See(c, "/library/"+url.PathEscape(to))
	}
	return s.answer(c, err, typed, func(f *forms, form *shell.Form) { f.template = form }, "")
}

func (s screen) showHistory(c fiber.Ctx) error {
	reread, _ := strconv.Atoi(c.Query("reread"))
	v, err := s.p.History(c.Context(), c.Params("id"), reread)
	if err != nil {
		return err
	}
	return s.sh.Render(c, s.history, fiber.StatusOK, shell.View{Title: "Before · " + v.Skill, Nav: "dogs", V: v})
}

func (s screen) showVerdicts(c fiber.Ctx) error {
	v, err := s.p.Verdicts(c.Context(), c.Params("id"), c.Query("overruled") != "")
	if err != nil {
		return err
	}
	return s.sh.Render(c, s.verdicts, fiber.StatusOK, shell.View{Title: "Verdicts · " + v.Skill, Nav: "dogs", V: v})
}
