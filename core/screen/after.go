package screen

import (
	"slices"
	"strings"

	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// after are the keys by which more can be said of the trial that was closed last, in rows: errors of the dog's, and last what came after
// it and the handler's own mistake. While a jackpot, a decoy, a mistake or a prompt has nothing said of it yet, that comes first. All of
// them are gone when the next trial starts.
func (r Screen) after() [][]work.Button {
	if r.Helps() || r.Stopped() || r.Warned() {
		return nil
	}
	if reasons := r.Reasons(); len(reasons) > 0 {
		return inRows(named(work.ReasonOf, reasons, nil))
	}
	if r.Unreacted() != nil {
		return [][]work.Button{reactions}
	}
	ticks := r.ticks()
	t := r.Said()
	if t == nil || r.Phase() == session.Warming || r.errs(t) {
		return inRows(ticks)
	}
	mistake := work.Button{Key: work.MistakeKey, Label: "My mistake", On: t.Mistake != ""}
	if t.Mistake == work.MistakeNotSaid {
		return inRows(append(named(work.MistakeOf, work.Mistakes, nil), mistake))
	}
	if mistake.On {
		mistake.Label += ": " + t.Mistake
	}
	rows := inRows(ticks)
	if len(ticks) > 0 {
		return append(rows, []work.Button{mistake})
	}
	if t.Prompts > 0 && t.Prompt == "" {
		rows = inRows(named(work.PromptOf, r.PromptKinds(), nil))
	} else {
		var errors []string
		for _, e := range r.Errors() {
			errors = append(errors, e.Name)
		}
		rows = inRows(named(work.ErrorOf, errors, t.Errors))
	}
	var last []work.Button
	for _, one := range []work.Button{
		{Key: work.PositionKey, Label: "In position again"}, {Key: work.ResetKey, Label: "Reset", On: t.After == work.WasReset}, mistake,
	} {
		if r.Means(one.Key) {
			last = append(last, one)
		}
	}
	return append(rows, last)
}

// errs tells whether the handler's own mistake in a trial has its key beside the outline, where there is no room for a row of its own.
func (r Screen) errs(t *trial.Trial) bool {
	return r.Kind().HandsOn && r.Phase() == session.Idle && t.Mistake == "" && t.Prompts == 0 && len(r.Errors()) == 0
}

// reactions are the keys of what the dog did at a decoy.
var reactions = []work.Button{
	{Key: work.ReactsTo + "none", Label: "No reaction"}, {Key: work.ReactsTo + "looks", Label: "Looks"},
	{Key: work.ReactsTo + work.Withdraws, Label: "Withdraws"},
}

// named makes a key of each name; those said are pressed in.
func named(prefix work.Key, names, said []string) (keys []work.Button) {
	for _, name := range names {
		keys = append(keys, work.Button{Key: prefix + work.Key(name), Label: name, On: slices.Contains(said, name)})
	}
	return keys
}

// acrossAfter is how many of those keys stand in one row.
const acrossAfter = 3

// inRows puts keys in as few rows as there can be, as even as can be.
func inRows(keys []work.Button) (rows [][]work.Button) {
	for lines := (len(keys) + acrossAfter - 1) / acrossAfter; len(keys) > 0; lines-- {
		n := (len(keys) + lines - 1) / lines
		rows, keys = append(rows, keys[:n]), keys[n:]
	}
	return rows
}

// arousal are the keys of how excited the dog is.
func (r Screen) arousal() (keys []work.Button) {
	now := r.Arousal()
	for i, name := range work.ArousalNames {
		keys = append(keys, work.Button{Key: work.ArousalOf + work.Key('0'+rune(i)), Label: name, On: now == i})
	}
	return keys
}

// helpDue tells whether the pause is over that the dog gets before the help which its step plans.
func (r Screen) helpDue(at float64) bool {
	pause, planned := work.PauseForHelp(r.Today().Criteria)
	o := r.Session().Trying
	return planned && pause > 0 && o != nil && o.Mark == nil && r.Phase() == session.Trying && at-o.From >= pause
}

// movesAhead names the next three movements: real ones and decoys, as they were dealt.
func (r Screen) movesAhead() string {
	var words []string
	for _, one := range r.MovesAhead() {
		words = append(words, map[session.Movement]string{session.Real: "real", session.Decoy: "decoy", session.ToolShow: "tool shown"}[one])
	}
	if len(words) == 0 {
		return ""
	}
	return "Next: " + strings.Join(words, ", ")
}
