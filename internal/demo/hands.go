package demo

import (
	"patientfox/core/criteria"
	"patientfox/core/field"
)

// starts begins a trial; an approximation that is offered has no beginning.
func starts(h *field.Hand, at int64) {
	b := h.Run.Session().At
	if b.Kind != criteria.Shaping || !h.Run.Today().Criteria.Has(criteria.Approx) {
		h.Press(field.Main, at)
	}
}

// ends brings the trial that was begun at from to its end with a key, as its kind of work is logged: paces, check-ins
// and signals have a press each. It returns when it ended, to or later.
func ends(h *field.Hand, key field.Key, from, to int64) int64 {
	c, kind := h.Run.Today().Criteria, h.Run.Session().At.Kind
	trying := func() bool { return h.Run.Session().Trying != nil }
	switch {
	case kind == criteria.Shaping && c.Has(criteria.Approx) && key == field.MissKey && c.Get(criteria.Approx) > 0:
		key = "offered:0"
	case kind == criteria.Counter && key == field.Main:
		key = field.ExpectKey
	case kind == criteria.Walking && key == field.Main && c.Has(criteria.Paces):
		n := int64(c.Get(criteria.Paces))
		to = max(to, from+n*450)
		for i := int64(1); i < n && trying(); i++ {
			h.Press(field.Main, from+(to-from)*i/n)
		}
	case kind == criteria.Attention && key == field.Main:
		to = max(to, from+60_000)
		n := int64(max(1, c.Get(criteria.CheckIns)))
		for i := int64(1); i <= n; i++ {
			h.Press(field.Main, from+(to-from)*i/(n+1))
		}
	case kind == criteria.Steadiness && key == field.Main:
		for i := int64(1); i < 3 && trying() && h.Run.View(from).Main.Label != "Release"; i++ {
			h.Press(field.Main, from+(to-from)*i/4)
		}
	}
	h.Press(key, to)
	return to
}
