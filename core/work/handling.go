package work

import (
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/say"
	"patientfox/core/trial"
)

var handling = Work{
	Kind: Handling, Label: "Handling and care: touched, groomed, treated",
	Hint: "A place on the body, a tool, some seconds; the dog may leave",
	Keys: []criteria.Key{criteria.Site, criteria.Tool, criteria.Duration, criteria.Help},
	Rule: decision.Calm, Pay: pay(4, 4, 8, reinforce.ToHold, reinforce.ByHand),
	First: progression.Generator{
		Make: progression.MakeSites, From: 1, To: 4, Items: []string{"shoulder", "neck", "ear"},
		Tools: []string{"the back of a hand", "fingers", "the closed tool"},
	},

	ByState: true, HandsOn: true, Stimulus: true, Lasts: true, Leaves: true, Tires: true,

	begin: "it begins", mark: "over", stop: "The dog says stop: ",
	asks: func(q *questions) {
		q.cue()
		q.text(q.def.Release, "How may the dog say stop?")
	},

	start:    func(*Moment) []Act { return []Act{{Do: Stimulus}} },
	main:     func(*Moment) []Act { return []Act{{Do: Expose}} },
	starting: func(*Moment) Button { return Button{Key: Main, Label: "It offers", Sub: "the touch begins"} },
	marking:  func(*Moment) Button { return Button{Key: Main, Label: StateNames[0], Sub: "over, and paid"} },
	row:      func(*Moment) []Button { return States() },
	own: []ownKey{
		{key: ExpectKey, when: always, acts: act(Act{Do: Expose})},
		{key: PulledKey, beside: "Pulled away: let go", when: trying, acts: act(Act{Do: Expose, State: 2, Touch: trial.Touch{Pulled: true}})},
		{key: TakeKey, beside: "You take it", when: idle, acts: act(Act{Do: Stimulus, Touch: trial.Touch{Taken: true}})},
	},
	line: func(m *Moment) string {
		if m.Trial != nil && m.Trial.Touch.Site != "" {
			return say.Upper(m.Trial.Touch.Site)
		}
		return say.Upper(m.Site)
	},
	columns: []Column{distractionOut, itselfAgain},
	shares: []Share{
		{Name: "Offered by the dog", Of: func(t *trial.Trial) (bool, bool) { return !t.Taken, true }},
		{Name: "Pulled away, let go", Of: func(t *trial.Trial) (bool, bool) { return t.Pulled, true }},
		{Name: "Really done", Of: func(t *trial.Trial) (bool, bool) { return t.Touch.Done, true }},
	},
}
