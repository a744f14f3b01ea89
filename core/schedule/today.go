package schedule

import (
	"cmp"
	"slices"

	"patientfox/core/decision"
)

// NeglectedAfter is after how many days without a session an unfinished skill counts as neglected.
const NeglectedAfter = 14

// IsNeglected tells whether an unfinished skill was not worked for long: days since its last session.
func IsNeglected(days int) bool { return days > NeglectedAfter }

// Head is what the lists of a day read of a plan.
type Head struct {
	Plan        string
	Never       bool // not worked yet
	InClass     bool // of a class that goes on: it begins there
	Planned     bool // in a session of the day that was not begun yet
	Finished    bool // the top step was passed, and that was taken
	Days        int  // since it was last worked; 0 today
	Probed      bool // a finished skill is probed, in
	ProbeIn     int  // days until then; below 0 it is overdue
	Stopped     bool // the last session ended by a stop, on this plan
	Recommended decision.Verdict
	Action      string // what was done about it
	Repeats     int    // verdicts at the reached step that did not pass
	Entries     int    // how often the dog came to it, lately
	Stalled     int    // sessions since it came higher than ever
	CountsUp    bool   // by its rule: then the dog comes to every step again and again, which says nothing
}

// Facts are those that say whether the step counts as stuck.
func (h Head) Facts() decision.Facts {
	f := decision.Facts{Entries: h.Entries, Repeats: h.Repeats, Stalled: h.Stalled}
	if h.CountsUp {
		f.Entries = 1
	}
	return f
}

// Stuck tells whether its step counts as stuck. One that rests does not: it is worked again first, and then seen.
func (h Head) Stuck() bool { return !h.Finished && !IsNeglected(h.Days) && decision.Stuck(h.Facts()) }

// Open is what of a plan waits for the trainer.
type Open string

// What can wait, most pressing first; "" is nothing.
const (
	OpenStop    Open = "stop"    // the last session ended in a stop
	OpenStuck   Open = "stuck"   // its step counts as stuck
	OpenSplit   Open = "split"   // a split was advised, and the step kept
	OpenVerdict Open = "verdict" // something was advised, and nobody answered
)

// Open says what of the plan waits for the trainer.
func (h Head) Open() Open {
	switch {
	case h.Stopped:
		return OpenStop
	case h.Stuck():
		return OpenStuck
	case !h.Finished && h.Recommended == decision.Split && h.Action == string(decision.Repeat):
		return OpenSplit
	case h.Action == "open":
		return OpenVerdict
	}
	return ""
}

// Lists are the plans of a day by what they are there for, by id. A plan that waits for the trainer is in another list too.
type Lists struct {
	Next, Done, Probes, Finished, Planned, Open []string
	Class                                       []string // that begin in a class
	More                                        bool     // than Next has room for
}

// All are the plans of all lists; one can be there twice.
func (l Lists) All() []string {
	return slices.Concat(l.Next, l.Done, l.Probes, l.Finished, l.Planned, l.Open)
}

// Today sorts plans into the lists of a day, each no longer than most: what was worked longest ago comes first, and what was never
// worked last.
func Today(heads []Head, most int) (l Lists) {
	put := func(list *[]string, id string) {
		if len(*list) < most {
			*list = append(*list, id)
		}
	}
	var next []Head
	for _, h := range heads {
		if h.Open() != "" {
			put(&l.Open, h.Plan)
		}
		done := !h.Never && h.Days == 0
		switch {
		case h.Planned && !done:
			put(&l.Planned, h.Plan)
		case h.Finished && h.Probed && h.ProbeIn <= 0 && !done:
			put(&l.Probes, h.Plan)
		case h.Finished:
			put(&l.Finished, h.Plan)
		case done:
			put(&l.Done, h.Plan)
		case h.InClass && h.Never:
			put(&l.Class, h.Plan)
		default:
			next = append(next, h)
		}
	}
	slices.SortStableFunc(next, func(a, b Head) int {
		if a.Never != b.Never {
			return cmp.Compare(b2i(a.Never), b2i(b.Never))
		}
		return cmp.Compare(b.Days, a.Days)
	})
	l.More = len(next) > most
	for _, h := range next {
		put(&l.Next, h.Plan)
	}
	return l
}

func b2i(b bool) int {
	if b {
		return 1
	}
	return 0
}
