package demo

import (
	"patientfox/core/session"
	"patientfox/core/work"
)

// starts begins a trial; an approximation that is offered has no beginning.
func starts(h *session.Hand, at int64) {
	if !work.Of(h.Run.Session().At.Kind).Offers(h.Run.Today().Criteria) {
		h.Press(work.Main, at)
	}
}

// decoys makes the movement that was dealt as a decoy, with the dog's reaction to it, and returns when the next one can begin.
func decoys(h *session.Hand, at int64) int64 {
	if !h.Run.Decoyed() {
		return at
	}
	h.Press(work.Main, at)
	h.Press(work.ReactsTo+work.Key(work.Reactions[len(h.Run.Session().Decoys)%2]), at+1500)
	return at + 5000
}

// ends brings the trial that was begun at from to its end with a key, with the presses that its kind of work has within a
// trial. It returns when it ended, to or later.
func ends(h *session.Hand, key work.Key, from, to int64) int64 {
	c, kind := h.Run.Today().Criteria, work.Of(h.Run.Session().At.Kind)
	_, nearest := work.Approximations(c)
	switch {
	case kind.Offers(c) && key == work.MissKey && nearest > 0:
		key = work.Offered + "0"
	case kind.Pairs && key == work.Main: // which pays, and closes nothing
		key = work.ExpectKey
	case key == work.Main:
		to = max(to, from+int64(kind.Least(c)*1000))
		n := int64(kind.Presses(c))
		for i := int64(1); i <= n; i++ {
			h.Press(work.Main, from+(to-from)*i/(n+1))
		}
	}
	if key == work.HelpKey && kind.Prompted() { // helped once, and marked as it does it
		h.Press(key, (from+to)/2)
		key, to = work.MetKey, to+400
	}
	h.Press(key, to)
	return to
}
