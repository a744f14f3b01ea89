package screen

import (
	"patientfox/core/say"
	"patientfox/core/work"
)

// helping shows a helper's screen: what the primary device shows, with the helper's keys.
func (r Screen) helping(v *View) {
	v.Main = work.Button{Key: work.Main, Label: "Met", Sub: "as you saw it"}
	if r.Kind().ByState {
		v.Main.Label = work.StateNames[0]
	}
	v.Row = work.Outcomes("", "Slow", "Helped", "Missed")
	if r.Kind().ByState {
		v.Row = work.States()
	}
	v.Beside = nil
	v.Helps = "You log beside the one who runs it: your trials count when they are accepted there."
	if n := len(r.Unaccepted()); n > 0 {
		v.Helps = say.Upper(say.Count(n, "trial")) + " of helpers not accepted yet."
	}
}
