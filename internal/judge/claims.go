package judge

import (
	"math"
	"math/rand/v2"
	"strconv"
	"time"

	"patientfox/core/decision"
	"patientfox/core/evidence"
	"patientfox/core/homework"
	"patientfox/core/trial"
)

func logistic(x float64) float64 { return 1 / (1 + math.Exp(-x)) }

// Conditions counts the dogs that are ever told that something goes with more or fewer met, over 40 sessions and six conditions. They
// learn within a step, have their days (mood, sd on the logit), work three places one after another, and of three other conditions each
// comes and goes by the day; effect is what the first of these does to the logit. right are those that were told of that one.
func Conditions(dogs int, mood, effect float64, seed uint64) (told, right int) {
	rng := rand.New(rand.NewPCG(seed, 7))
	for i := range uint64(dogs) {
		visits := visited(rng, 40, mood, effect)
		any, one := false, false
		for _, look := range evidence.Looks {
			for _, c := range evidence.Associate(visits[:look], 6, i).Conditions {
				any, one = any || c.Claimed, one || c.Claimed && c.Index == 3
			}
		}
		if any {
			told++
		}
		if one {
			right++
		}
	}
	return told, right
}

func visited(rng *rand.Rand, sessions int, mood, effect float64) (visits []evidence.Visit) {
	order, inStep := 0, 0
	for i := range sessions {
		v := evidence.Visit{With: []bool{
			i*3/sessions == 0, i*3/sessions == 1, i*3/sessions == 2, rng.IntN(2) == 0, rng.IntN(3) == 0, rng.IntN(4) == 0,
		}}
		day := mood * rng.NormFloat64()
		if v.With[3] {
			day += effect
		}
		for range 12 {
			if rng.Float64() < logistic(0.2+0.03*float64(order)+day) {
				v.Met++
			}
			v.N++
			v.Order += float64(order)
			order++
		}
		v.Order /= float64(v.N)
		visits = append(visits, v)
		if inStep++; v.Met >= 10 || inStep == 6 {
			order, inStep = 0, 0
		}
	}
	return visits
}

// Cold counts the dogs that are ever told, looked at every ten sessions of 40, that their cold trials differ; cold is by how much they
// do, on the logit.
func Cold(dogs int, cold float64, seed uint64) (told int) {
	rng := rand.New(rand.NewPCG(seed, 27))
	for range dogs {
		var trials []trial.Trial
		for session := range 40 {
			mood := 0.65 * rng.NormFloat64()
			for i := range 10 {
				x := 0.5 + 0.02*float64(session%12) + mood
				if i == 0 {
					x += cold
				}
				one := trial.Trial{Outcome: trial.Missed, Session: strconv.Itoa(session), Step: strconv.Itoa(session / 12), Cold: i == 0}
				if rng.Float64() < logistic(x) {
					one.Outcome = trial.Met
				}
				trials = append(trials, one)
			}
			if session%10 == 9 && evidence.FirstTrials(trials).Within(trials).Clear() {
				told++
				break
			}
		}
	}
	return told
}

// Stops counts the sessions of so many trials in which a stop sign of statistics speaks; rate and pace are the dog's at each trial, pace
// as a multiple of its usual latency.
func Stops(sessions, trials int, rate, pace func(i int) float64, seed uint64) (told int) {
	rng := rand.New(rand.NewPCG(seed, 14))
	sure := map[decision.Halves]float64{}
	for range sessions {
		var right []bool
		s := decision.Signs{Left: -1, Set: 5}
		for i := range trials {
			met := rng.Float64() < rate(i)
			right = append(right, met)
			latency := math.Inf(1)
			if met {
				latency = pace(i) * math.Exp(0.4*rng.NormFloat64())
			}
			s.Latencies = append(s.Latencies, latency)
			if h, ok := decision.HalvesOf(right, 5); ok {
				if _, known := sure[h]; !known {
					sure[h] = h.Sure()
				}
				s.Declines = sure[h]
			}
			if _, stop := decision.Advise(s); stop {
				told++
				break
			}
		}
	}
	return told
}

// Proofs counts the dogs that pass a proof within 40 sessions of so many trials, and after how many sessions half of those had. With
// moods (sd on the logit) they are right at rate over all their days.
func Proofs(dogs, perSession int, rate, mood float64, seed uint64) (passed, median int) {
	rng := rand.New(rand.NewPCG(seed, uint64(perSession)))
	meter := decision.NewMeter(decision.Defaults(decision.Proof))
	var after []int
	usual := centre(rate, mood)
	for range dogs {
		meter.Anew()
		meter.Begin(2, 9)
		for session := range 40 {
			meter.Session()
			today := logistic(usual + mood*rng.NormFloat64())
			for i := range perSession {
				mark := decision.MarkMissed
				if rng.Float64() < today {
					mark = decision.MarkMet
				}
				if v := meter.Trial(mark, 0, i == 0, uint8(session%3)); v == decision.StepBack {
					meter.Begin(2, 9) // and back up at once
				}
			}
			if meter.Ended() == decision.StepUp {
				after = append(after, session+1)
				break
			}
		}
	}
	return len(after), middle(after)
}

// centre is the logit of a usual day of a dog that is right at rate over all of them.
func centre(rate, mood float64) float64 {
	lo, hi := -10.0, 10.0
	for range 60 {
		at, mean := (lo+hi)/2, 0.0
		const parts = 401
		for i := range parts {
			mean += logistic(at+mood*math.Sqrt2*math.Erfinv(2*(float64(i)+0.5)/parts-1)) / parts
		}
		if mean < rate {
			lo = at
		} else {
			hi = at
		}
	}
	return (lo + hi) / 2
}

func middle(list []int) int {
	if len(list) == 0 {
		return 0
	}
	counts := [301]int{}
	for _, n := range list {
		counts[n]++
	}
	sum := 0
	for n, k := range counts {
		if sum += k; 2*sum >= len(list) {
			return n
		}
	}
	return 0
}

// Steady is a dog that stays as it is.
func Steady(x float64) func(int) float64 { return func(int) float64 { return x } }

// Falls is one that is right nine times in ten, and from its 15th trial on every other time.
func Falls(i int) float64 {
	if i < 15 {
		return 0.9
	}
	return 0.5
}

// Tires is one that takes more than twice as long from its 15th trial on.
func Tires(i int) float64 { return 1 + 1.2*float64(min(1, i/15)) }

// Homes counts the households that are ever spoken of within 12 weeks because more came back from home than was seen in visits. They count
// five times a day on five days a week, and are visited twice a week for 12 trials; days and visits differ (mood, sd on the logit), and
// rosy is how much kinder the counting at home is, on the logit.
func Homes(households int, mood, rosy float64, seed uint64) (told int) {
	rng := rand.New(rand.NewPCG(seed, 9))
	begin := time.Date(2026, 1, 5, 0, 0, 0, 0, time.UTC)
	for range households {
		var list []homework.Counted
		count := func(day int, session string, n int, lift float64) {
			p := logistic(1 + lift + mood*rng.NormFloat64())
			one := homework.Counted{Day: begin.AddDate(0, 0, day).Format(time.DateOnly), Step: "step", Session: session, Of: n}
			for range n {
				if rng.Float64() < p {
					one.Met++
				}
			}
			list = append(list, one)
		}
		spoke := false
		for day := range 12 * 7 {
			if day%7 < 5 {
				count(day, "", 5, rosy)
			}
			if day%7 == 1 || day%7 == 4 {
				count(day, strconv.Itoa(day), 12, 0)
			}
			if (day+1)%homework.Fortnight == 0 {
				_, differ := homework.Differ(list, begin.AddDate(0, 0, day+1).Format(time.DateOnly))
				spoke = spoke || differ
			}
		}
		if spoke {
			told++
		}
	}
	return told
}
