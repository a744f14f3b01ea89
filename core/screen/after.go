package screen

import (
	"slices"

	"patientfox/core/session"
	"patientfox/core/work"
)

// after are the keys by which more can be said of the trial that was closed last, in rows: errors of the dog's, and last what came after
// it and the handler's own mistake. While a mistake or a prompt has no kind yet, its kinds stand in the errors' place. All of them are
// gone when the next one starts.
func (r Screen) after() (rows [][]work.Button) {
	t := r.Said()
	if t == nil || r.Helps() || r.Stopped() || r.Warned() {
		return nil
	}
	row := func(prefix work.Key, names []string, on func(name string) bool) {
		for lines := (len(names) + acrossAfter - 1) / acrossAfter; len(names) > 0; lines-- {
			n := (len(names) + lines - 1) / lines // as even as can be
			var keys []work.Button
			for _, name := range names[:n] {
				keys = append(keys, work.Button{Key: prefix + work.Key(name), Label: name, On: on(name)})
			}
			rows, names = append(rows, keys), names[n:]
		}
	}
	mistaken := t.Mistake != ""
	mistake := "My mistake"
	switch {
	case t.Mistake == work.MistakeNotSaid:
		row(work.MistakeOf, work.Mistakes, func(string) bool { return false })
	case t.Prompts > 0 && t.Prompt == "":
		row(work.PromptOf, r.PromptKinds(), func(string) bool { return false })
	default:
		var errors []string
		for _, e := range r.Errors() {
			errors = append(errors, e.Name)
		}
		row(work.ErrorOf, errors, func(name string) bool { return slices.Contains(t.Errors, name) })
		if mistaken {
			mistake += ": " + t.Mistake
		}
	}
	var last []work.Button
	for _, one := range []work.Button{
		{Key: work.PositionKey, Label: "In position again"}, {Key: work.ResetKey, Label: "Reset", On: t.After == work.WasReset},
		{Key: work.MistakeKey, Label: mistake, On: mistaken},
	} {
		if r.Means(one.Key) {
			last = append(last, one)
		}
	}
	return append(rows, last)
}

// acrossAfter is how many of those keys stand in one row.
const acrossAfter = 3

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
