package judge

import (
	"math"
	"math/rand/v2"
	"strconv"

	"patientfox/core/evidence"
)

// Never is so many missed in a row that nobody ends a session early.
const Never = 1000

// Tired counts the dogs that are ever told, over 40 sessions, that they fall off within a session, and those whose place of it is found
// within two trials. They have their days (sd 0.65 on the logit), learn within a step and go up it after six met in a row. By is what each
// trial after the fifteenth costs on the logit. Ends are how many missed in a row end a session early, of one dog after another.
func Tired(dogs int, by float64, ends []int, seed uint64) (told, near int) {
	const tiresFrom, nearTo = 15, 2
	rng := rand.New(rand.NewPCG(seed, 12))
	for dog := range uint64(dogs) {
		stops := ends[int(dog)%len(ends)]
		step, ability := 0, 1.5
		var sessions [][]evidence.Worked
		for range 40 {
			day, met, missed := 0.65*rng.NormFloat64(), 0, 0
			var one []evidence.Worked
			for at := 1; at <= 25 && (at <= 10 || missed < stops); at++ {
				t := evidence.Worked{At: at, Step: strconv.Itoa(step)}
				if t.Met = rng.Float64() < logistic(ability+day-by*float64(max(0, at-tiresFrom))); t.Met {
					met, missed, ability = met+1, 0, ability+0.02
				} else {
					met, missed = 0, missed+1
				}
				if one = append(one, t); met == 6 {
					step, met, ability = step+1, 0, ability-0.4
				}
			}
			sessions = append(sessions, one)
		}
		for _, look := range evidence.Looks {
			if t := evidence.Tiring(sessions[:look], dog); t.Claimed {
				told++
				if t.Best >= tiresFrom-nearTo && t.Best <= tiresFrom+nearTo {
					near++
				}
				break
			}
		}
	}
	return told, near
}

// Lost counts the dogs that are ever told, over 40 breaks of one to seven days, that days off cost them something: loss logits each time
// that the days double. Each day is like itself (sd 0.65 on the logit). A dog has three plans, worked every day, every few days and
// seldom; in each the first trials are worse than the last, or better, for reasons of its own.
func Lost(dogs int, loss float64, seed uint64) (told int) {
	rng := rand.New(rand.NewPCG(seed, 13))
	rate := func(n int, logit float64) float64 {
		k := 0
		for range n {
			if rng.Float64() < logistic(logit) {
				k++
			}
		}
		return float64(k) / float64(n)
	}
	plans := []struct {
		days []int
		ends float64 // logit of the last trials
	}{{[]int{1, 1, 1, 2}, 0.3}, {[]int{1, 2, 2, 3}, 1.5}, {[]int{2, 3, 4, 7}, 2.5}}
	for dog := range uint64(dogs) {
		var breaks []evidence.Break
		for range 40 {
			plan := rng.IntN(len(plans))
			days := plans[plan].days
			b := evidence.Break{
				Plan: strconv.Itoa(plan), Days: days[rng.IntN(len(days))], Close: evidence.Closing, Open: evidence.Opening,
			}
			b.CloseRate = rate(b.Close, plans[plan].ends+0.65*rng.NormFloat64())
			b.OpenRate = rate(b.Open, 1.5+0.65*rng.NormFloat64()-loss*math.Log2(float64(b.Days)))
			breaks = append(breaks, b)
		}
		for _, look := range evidence.Looks {
			if evidence.DaysOff(breaks[:look], dog).Claimed {
				told++
				break
			}
		}
	}
	return told
}
