package session

import (
	"encoding/json"

	"patientfox/core/record"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// Unaccepted are the trials of other devices that do not count yet; a touch that both logged is counted already.
func (r *Run) Unaccepted() (ids []string) {
	for i := range r.s.Trials {
		if t := &r.s.Trials[i]; t.Waits && t.Dev != r.s.PrimaryDevice && !r.s.Twice(t) {
			ids = append(ids, t.ID)
		}
	}
	return ids
}

// accept counts them.
func (r *Run) accept() (drafts []record.Draft) {
	for _, id := range r.Unaccepted() {
		drafts = append(drafts, record.NewDraft(record.KAmend, record.AmendData{
			Target: id, Set: map[string]json.RawMessage{"accepted": encode(true)},
		}))
	}
	return drafts
}

// helperKeys are the keys of a device beside the one that holds the pen: outcomes and states as they are seen, no cues
// and no verdicts.
var helperKeys = []work.Key{
	work.Main, work.MetKey, work.LateKey, work.HelpKey, work.MissKey, work.VoidKey, work.PayKey, work.UndoKey, work.OfferKey,
	work.LeftKey, work.SlowKey, work.RefusedKey, work.PenKey,
}

// assist answers a key on a helper's device.
func (r *Run) assist(key work.Key) []record.Draft {
	switch key {
	case work.PayKey:
		return r.pays(Earned{Pay: true})
	case work.UndoKey:
		return r.undo()
	case work.PenKey:
		return []record.Draft{record.NewDraft(record.KPen, struct{}{})}
	case work.OfferKey, work.LeftKey, work.SlowKey, work.RefusedKey:
		return r.own(key, 0)
	}
	states := map[work.Key]int{work.Main: 0, work.MetKey: 1, work.LateKey: 2, work.HelpKey: 3, work.MissKey: 4}
	if state, ok := states[key]; ok && r.Kind().ByState {
		return []record.Draft{record.NewDraft(record.KExposure, record.ExposureData{State: state})}
	}
	outcomes := map[work.Key]trial.Outcome{
		work.Main: trial.Met, work.MetKey: trial.Met, work.LateKey: trial.Late, work.HelpKey: trial.Helped,
		work.MissKey: trial.Missed, work.VoidKey: trial.Void,
	}
	return []record.Draft{record.NewDraft(record.KTrial, record.TrialData{Outcome: outcomes[key], Asked: r.Target()})}
}
