package field

import (
	"encoding/json"

	"patientfox/core/criteria"
	"patientfox/core/evidence"
	"patientfox/core/phrase"
	"patientfox/core/record"
)

// The keys of several devices in one session.
const (
	AcceptKey Key = "accept" // counts what helpers logged
	PenKey    Key = "pen"    // on a helper's device: it runs the session from here on
)

// unaccepted are the trials of other devices that do not count yet.
func (r *Run) unaccepted() (ids []string) {
	for _, t := range r.s.Trials {
		if !t.Counts && t.Dev != r.s.Pen {
			ids = append(ids, t.ID)
		}
	}
	return ids
}

// accept counts them.
func (r *Run) accept() (drafts []record.Draft) {
	for _, id := range r.unaccepted() {
		drafts = append(drafts, record.NewDraft(record.KAmend, record.Amend{Target: id, Set: map[string]json.RawMessage{"accepted": encode(true)}}))
	}
	return drafts
}

// helperKeys are the keys of a device beside the one that holds the pen: outcomes and states as they are seen, no cues
// and no verdicts.
var helperKeys = []Key{Main, MetKey, LateKey, HelpKey, MissKey, VoidKey, PayKey, UndoKey, OfferKey, LeftKey, SlowKey, RefusedKey, PenKey}

// assist answers a key on a helper's device.
func (r *Run) assist(key Key) []record.Draft {
	switch key {
	case PayKey:
		return []record.Draft{r.paid(earned{Pay: true})}
	case UndoKey:
		return r.undo()
	case PenKey:
		return []record.Draft{record.NewDraft(record.KPen, struct{}{})}
	case OfferKey, LeftKey, SlowKey, RefusedKey:
		return r.own(key, 0)
	}
	states := map[Key]int{Main: 0, MetKey: 1, LateKey: 2, HelpKey: 3, MissKey: 4}
	if state, ok := states[key]; ok && r.pack.Kind.ByState() {
		return []record.Draft{record.NewDraft(record.KExposure, record.Exposure{State: state})}
	}
	outcomes := map[Key]evidence.Outcome{Main: evidence.Met, MetKey: evidence.Met, LateKey: evidence.Late, HelpKey: evidence.Helped, MissKey: evidence.Missed, VoidKey: evidence.Void}
	return []record.Draft{record.NewDraft(record.KTrial, record.Trial{Outcome: outcomes[key], Asked: r.Target()})}
}

// helping shows a helper's screen: what the pen's shows, with keys of its own.
func (r *Run) helping(v *View) {
	v.Main = Button{Main, "Met", "as you saw it"}
	if r.pack.Kind.ByState() {
		v.Main.Label = phrase.States[0]
	}
	v.Row = []RowKey{{LateKey, "Late", "late", "2", false}, {HelpKey, "Helped", "helped", "3", false}, {MissKey, "Missed", "missed", "4", false}}
	if r.pack.Kind.ByState() {
		v.Row = r.row()
		if r.pack.Kind == criteria.Counter && len(v.Row) == 5 {
			v.Row = v.Row[1:]
		}
	}
	v.Beside = nil
	v.Helps = "You log beside the one who runs it: your trials count when they are accepted there."
	if n := len(r.unaccepted()); n > 0 {
		v.Helps = phrase.Upper(phrase.Count(n, "trial")) + " of helpers not accepted yet."
	}
}
