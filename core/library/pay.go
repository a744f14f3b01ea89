package library

import (
	"encoding/json"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/reinforce"
	"patientfox/core/work"
)

// How a skill moves a dog: whether sessions put it next to something lively or something that settles.
const (
	Lively   = "lively"
	Settling = "settling"
)

// oldReward is the strategy in words that bodies carried before it had figures.
type oldReward struct {
	Value    string `json:"value"`
	Schedule string `json:"schedule"`
	Where    string `json:"where"`
	How      string `json:"how"`
}

// tierOf reads the words for a tier that older bodies and template files use.
var tierOf = map[string]int{"the best there is": 5, "very good": 4, "good": 3, "everyday food": 2}

// PayInWords is the strategy that older bodies and template files say in words: what has no figure is kept where
// the place of delivery is said.
func PayInWords(value, schedule, where, how string, band reinforce.Band, pieces int) reinforce.Strategy {
	s := reinforce.Strategy{Tier: tierOf[value], Band: band, Pieces: pieces, Schedule: reinforce.Schedule{Way: reinforce.Every}}
	words := []string{}
	for _, text := range []string{where, how} {
		if text = strings.TrimSpace(text); text != "" {
			words = append(words, text)
		}
	}
	if schedule != "" && !strings.HasPrefix(strings.ToLower(schedule), "every one") {
		words = append(words, schedule)
	}
	s.Where = strings.Join(words, "; ")
	return s
}

// UnmarshalJSON reads a body, those of older versions too.
func (b *Body) UnmarshalJSON(raw []byte) error {
	type plain Body
	var read struct {
		*plain
		Band      *reinforce.Band `json:"band"`
		PayPieces int             `json:"pay_pieces"`
		Reward    oldReward       `json:"reward"`
	}
	read.plain = (*plain)(b)
	if err := json.Unmarshal(raw, &read); err != nil {
		return err
	}
	if read.Band != nil {
		r := read.Reward
		b.Pay = PayInWords(r.Value, r.Schedule, r.Where, r.How, *read.Band, max(1, read.PayPieces))
	}
	return nil
}

// RaisePay gives the steps of a new plan that bring something new in a better and a faster pay than the plan's,
// where they have none of their own: value and rate rise before the difficulty does.
func (b *Body) RaisePay(steps []progression.Step) {
	for i, s := range steps {
		if i == 0 || !harder(steps[i-1].Criteria, s.Criteria) {
			continue
		}
		if _, own := b.StepPay[s.ID]; own {
			continue
		}
		if b.StepPay == nil {
			b.StepPay = map[string]reinforce.Strategy{}
		}
		b.StepPay[s.ID] = b.Pay.Raise()
	}
}

// knownTrials and knownRate say from when on a step is known well enough to be paid more thinly.
const (
	knownTrials = 20
	knownRate   = 0.9
	knownRung   = 4
)

// Known is how a step that is known by now may be paid: the quickest of the answers where they are timed, else one
// in four, reached a rung at a time. met and n are its counted trials; ok is false where it is too early, where it
// is thinned already, or where the work is always paid.
func (b Body) Known(kind work.Kind, pay reinforce.Strategy, met, n int) (to reinforce.Strategy, ok bool) {
	most := work.Of(kind).MaxRung(b.Lifeline)
	if n < knownTrials || float64(met) < knownRate*float64(n) || most == 1 || pay.Schedule.PaidShare() < 1 {
		return pay, false
	}
	to = pay
	to.Schedule = reinforce.Schedule{Way: reinforce.Variable, K: min(most, knownRung), Thin: true}
	if work.Of(kind).OnCue && !b.Lifeline {
		to.Schedule = reinforce.Schedule{Way: reinforce.Best, Share: reinforce.DefaultShare}
	}
	return to, true
}

// harder tells whether a step brings something in that was not there before: a new dimension, or a trigger
// that is stronger or begins to move.
func harder(from, to criteria.Criteria) bool {
	if progression.NewDimension(from, to) {
		return true
	}
	return to.Get(criteria.Intensity) > from.Get(criteria.Intensity) || to.Get(criteria.Moving) > from.Get(criteria.Moving)
}

// PayLintCode names what is not sound about how a step is paid.
type PayLintCode string

// What can be not sound about a step's pay.
const (
	PayNotRaised  PayLintCode = "not_raised" // something new comes in, and neither value nor rate rises before it
	PayThin       PayLintCode = "thin"       // something new comes in, and not every one is paid
	PayAttainable PayLintCode = "attainable" // the planned rate is above what the trials allow
	PayNoLatency  PayLintCode = "no_latency" // the best share by latency, and nothing times one
)

// PayLint is one thing that is not sound about a step's pay, with the pay that mends it; no fix where To is nil.
type PayLint struct {
	Step   int
	Code   PayLintCode
	Needed float64 // attainable: pays inside that it takes
	To     *reinforce.Strategy
}

// PayLints looks at how the steps are paid; cycles are theirs in order, empty where nothing is known.
func (b Body) PayLints(kind work.Kind, steps []progression.Step, cycles []reinforce.Cycle) []PayLint {
	var lints []PayLint
	for i, s := range steps {
		pay, _ := b.PayAt(s.ID)
		if i > 0 && harder(steps[i-1].Criteria, s.Criteria) {
			before, _ := b.PayAt(steps[i-1].ID)
			lints = append(lints, raisedLints(i, before, pay)...)
		}
		if pay.Schedule.Way == reinforce.Best && !work.Of(kind).Answers {
			to := pay
			to.Schedule = reinforce.Schedule{Way: reinforce.Every}
			lints = append(lints, PayLint{Step: i, Code: PayNoLatency, To: &to})
		}
		if i < len(cycles) && !work.Of(kind).Holds && pay.Band.Lo > cycles[i].Attainable(pay.Schedule.PaidShare())+1e-9 {
			to := pay
			to.Band.Lo = float64(int(cycles[i].Attainable(pay.Schedule.PaidShare())))
			lints = append(lints, PayLint{Step: i, Code: PayAttainable, Needed: cycles[i].Attainable(pay.Schedule.PaidShare()), To: &to})
		}
	}
	return lints
}

// raisedLints look at the pay of a step that brings something in, against the one below it.
func raisedLints(i int, before, pay reinforce.Strategy) []PayLint {
	best := before.Tier >= reinforce.MaxTier && pay.AtLeast(before)
	if !pay.Above(before) && !best || !pay.AtLeast(before) {
		to := before.Raise()
		to.Pieces, to.Where, to.Purpose, to.Delivery = pay.Pieces, pay.Where, pay.Purpose, pay.Delivery
		return []PayLint{{Step: i, Code: PayNotRaised, To: &to}}
	}
	if pay.Schedule.PaidShare() < 1 {
		to := pay
		to.Schedule = reinforce.Schedule{Way: reinforce.Every}
		return []PayLint{{Step: i, Code: PayThin, To: &to}}
	}
	return nil
}
