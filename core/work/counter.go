package work

import (
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/trial"
)

var counter = Work{
	Kind: Counter, Label: "Counter-conditioning: worried by something",
	Hint: "Stimulus first, then food, whatever the dog does; its state is watched",
	Keys: []criteria.Key{criteria.Trigger, criteria.Intensity, criteria.Moving, criteria.Part, criteria.Duration},
	Rule: decision.Calm, Pay: pay(5, 6, 12, reinforce.ToHold, reinforce.OnFloor),
	First: progression.Generator{Make: progression.MakeApproach, From: 40, To: 10, Level: 2},

	ByState: true, Pairs: true, Stimulus: true, Lasts: true, Lively: true, Tires: true,

	begin: "it begins", mark: "over",
	asks: func(q *questions) {
		q.step("What is there, how far off or how strong?", criteria.Trigger, criteria.Intensity, criteria.Part)
	},

	start:    func(*Moment) []Act { return []Act{{Do: Stimulus}} },
	main:     func(*Moment) []Act { return []Act{{Do: Pay}} },
	starting: func(*Moment) Button { return Button{Key: Main, Label: "It is there", Sub: "first that, then food"} },
	marking:  func(*Moment) Button { return Button{Key: Main, Label: "Pay", Sub: "while it is on; a state ends it"} },
	row:      func(*Moment) []Button { return States() },
	own:      []ownKey{{key: ExpectKey, when: always, acts: act(Act{Do: Expose})}},
	line: func(m *Moment) string {
		if m.Trial == nil {
			return ""
		}
		line := say.Count(m.Trial.Pays, "pay") + " while it is on"
		if m.Trial.FedFirst {
			line += " · food came first: first that, then food"
		}
		return line
	},
	columns: []Column{distractionOut, itselfAgain},
	shares:  []Share{{Name: "Food before the stimulus", Of: func(t *trial.Trial) (bool, bool) { return t.FedFirst, true }, Quiet: true}},
}
