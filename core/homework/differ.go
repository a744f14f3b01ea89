package homework

import (
	"math"
	"slices"

	"patientfox/core/standing"
)

// Bounds of a comparison of home with visits, a fortnight.
const (
	Fortnight    = 14 // days
	DifferTrials = 20 // on each side
	DifferDays   = 4  // on which something came back from home
	DifferVisits = 2  // sessions
)

// Counted is how often a step was right on one day at home, or in one session of a visit.
type Counted struct {
	Day     string // YYYY-MM-DD
	Step    string // with its revision: only the same is compared
	Session string // of a visit, "" at home
	Met, Of int
}

// Rates are both sides of a comparison at the same steps.
type Rates struct {
	HomeMet, HomeOf, VisitMet, VisitOf int
}

// Differ tells whether more came back from home than was seen in visits, at the same steps, and both rates of the last two fortnights that
// are over today. Fortnights are those of the calendar, counted from Monday 5 January 1970, so that whenever it is asked it looks at each
// once. It speaks only where the 90 % interval of the Mantel–Haenszel odds ratio (½ added to each cell; variance after Robins, Breslow and
// Greenland 1986) lies above 1 in both: of households who count right, some 3 or 4 in 100 are ever spoken of within 12 weeks, where days
// differ with an sd of 0.4 on the logit.
func Differ(list []Counted, today string) (r Rates, differ bool) {
	now, ok := standing.Day(today)
	if !ok {
		return r, false
	}
	over := (now - firstMonday) / Fortnight
	for k := over - 2; k < over; k++ {
		from, to := standing.Named(firstMonday+k*Fortnight), standing.Named(firstMonday+(k+1)*Fortnight)
		one, above := differs(slices.DeleteFunc(slices.Clone(list), func(c Counted) bool { return c.Day < from || c.Day >= to }))
		if !above {
			return Rates{}, false
		}
		r = Rates{r.HomeMet + one.HomeMet, r.HomeOf + one.HomeOf, r.VisitMet + one.VisitMet, r.VisitOf + one.VisitOf}
	}
	return r, true
}

const firstMonday = 4 // 5 January 1970, as standing.Day counts

// differs compares one fortnight.
func differs(list []Counted) (r Rates, above bool) {
	tables := map[string]*Rates{}
	var steps []string
	for _, c := range list {
		if tables[c.Step] == nil {
			tables[c.Step], steps = &Rates{}, append(steps, c.Step)
		}
		one := tables[c.Step]
		if c.Session == "" {
			one.HomeMet, one.HomeOf = one.HomeMet+c.Met, one.HomeOf+c.Of
		} else {
			one.VisitMet, one.VisitOf = one.VisitMet+c.Met, one.VisitOf+c.Of
		}
	}
	days, sessions := map[string]bool{}, map[string]bool{}
	for _, c := range list {
		switch one := tables[c.Step]; {
		case one.HomeOf == 0 || one.VisitOf == 0:
		case c.Session == "":
			days[c.Day] = true
		default:
			sessions[c.Session] = true
		}
	}
	var all []Rates
	for _, step := range steps {
		if one := *tables[step]; one.HomeOf > 0 && one.VisitOf > 0 {
			all = append(all, one)
			r = Rates{r.HomeMet + one.HomeMet, r.HomeOf + one.HomeOf, r.VisitMet + one.VisitMet, r.VisitOf + one.VisitOf}
		}
	}
	if r.HomeOf < DifferTrials || r.VisitOf < DifferTrials || len(days) < DifferDays || len(sessions) < DifferVisits {
		return r, false
	}
	odds, se := MantelHaenszel(all)
	return r, math.Log(odds)-z90*se > 0
}

const z90 = 1.6448536269514722 // of a standard normal, two-sided 90 %

// MantelHaenszel pools 2×2 tables: the odds ratio of right at home over right in visits, and the standard error of its logarithm (Robins,
// Breslow and Greenland 1986), ½ added to each cell. Every table must have trials on both sides.
func MantelHaenszel(tables []Rates) (odds, se float64) {
	var r, s, pr, ps, qr, qs float64
	for _, one := range tables {
		a, b := float64(one.HomeMet)+0.5, float64(one.HomeOf-one.HomeMet)+0.5
		c, d := float64(one.VisitMet)+0.5, float64(one.VisitOf-one.VisitMet)+0.5
		n := a + b + c + d
		R, S, P, Q := a*d/n, b*c/n, (a+d)/n, (b+c)/n
		r, s = r+R, s+S
		pr, ps, qr, qs = pr+P*R, ps+P*S, qr+Q*R, qs+Q*S
	}
	return r / s, math.Sqrt(pr/(2*r*r) + (ps+qr)/(2*r*s) + qs/(2*s*s))
}
