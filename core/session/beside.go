package session

import (
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/work"
)

// beside are keys of what is done beside the trials: pays, decoys, the dog fetched instead of called. Each says when it means something,
// and what it logs.
var beside = map[work.Key]struct {
	means func(r *Run, phase Phase) bool
	does  func(r *Run, at float64) []record.Draft
}{
	work.JackpotKey: {
		func(r *Run, phase Phase) bool {
			between := phase == Idle || phase == Deciding
			return (between || phase == Trying) && r.InHand().Kind == reinforce.Food && r.hasPay()
		},
		func(r *Run, at float64) []record.Draft { return append(r.endsPlay(at), r.jackpot()...) },
	},
	work.OtherKey: {
		func(r *Run, phase Phase) bool {
			return (phase == Idle || phase == Deciding || phase == Recovering) && r.hasPay()
		},
		func(r *Run, at float64) []record.Draft {
			return append(r.endsPlay(at), r.gives(r.pack.PayAt(r.step().ID).Piece(), record.PayData{Apart: true})...)
		},
	},
	work.WantedKey: {
		func(r *Run, phase Phase) bool {
			return (phase == Idle || phase == Deciding || phase == Trying) && r.pack.PayAt(r.step().ID).LifeReward > 0 && r.Playing() == nil
		},
		func(r *Run, _ float64) []record.Draft { return r.pays(Earned{LifeReward: true}) },
	},
	work.DecoyKey: {
		func(r *Run, _ Phase) bool { return r.movesNow() },
		func(r *Run, _ float64) []record.Draft { return r.decoy(Decoy) },
	},
	work.RealKey: {
		func(r *Run, _ Phase) bool { return r.Decoyed() },
		func(r *Run, at float64) []record.Draft { return r.does(r.Kind().Start(r.Moment(at)), at) },
	},
	work.FetchedKey: {
		func(r *Run, phase Phase) bool { return phase == Idle && r.fetches() && r.s.Away == nil },
		func(r *Run, _ float64) []record.Draft { return r.withheld() },
	},
	work.RehearseKey: {
		func(r *Run, phase Phase) bool { return (phase == Idle || phase == Deciding) && r.rehearses() },
		func(r *Run, _ float64) []record.Draft { return r.rehearse() },
	},
	work.LoopKey: {
		func(r *Run, _ Phase) bool { return r.Loops() },
		func(r *Run, _ float64) []record.Draft { r.loop(); return nil },
	},
}
