package evidence

import (
	"fmt"
	"math"

	"gonum.org/v1/gonum/integrate/quad"
	"gonum.org/v1/gonum/mathext"
	"gonum.org/v1/gonum/stat/distuv"
)

// Epsilon is what every comparison with a threshold allows, so that all machines answer alike
// although their last bits differ.
const Epsilon = 1e-9

// Interval is a range of success rates, each end in 0…1.
type Interval struct {
	Lo float64 `json:"lo"`
	Hi float64 `json:"hi"`
}

// possible panics where more trials are met than there are: a mistake of the program, and not of what somebody logged.
func possible(met, n int) {
	if met < 0 || met > n {
		panic(fmt.Sprintf("evidence: %d of %d trials met", met, n))
	}
}

// Wilson returns the score interval for met successes in n trials at the confidence conf (0…1,
// usually 0.95). Without trials it is the whole range. It panics where met is not 0…n. Source: E. B. Wilson, "Probable inference,
// the law of succession, and statistical inference", JASA 22 (1927).
func Wilson(met, n int, conf float64) Interval {
	possible(met, n)
	if n == 0 {
		return Interval{0, 1}
	}
	z := mathext.NormalQuantile(1 - (1-conf)/2)
	size, p := float64(n), float64(met)/float64(n)
	denominator := 1 + z*z/size
	centre := (p + z*z/(2*size)) / denominator
	half := z / denominator * math.Sqrt(p*(1-p)/size+z*z/(4*size*size))
	return Interval{math.Max(0, centre-half), math.Min(1, centre+half)}
}

// posterior is the Jeffreys posterior of a success rate: Beta(met+½, n−met+½).
func posterior(met, n int) distuv.Beta {
	possible(met, n)
	return distuv.Beta{Alpha: float64(met) + 0.5, Beta: float64(n-met) + 0.5}
}

// Jeffreys returns the equal-tailed interval of Beta(met+½, n−met+½) at the confidence conf. Its
// lower end is 0 where nothing was met, its upper end 1 where everything was. It panics where met is not 0…n. Source: Brown, Cai
// and DasGupta, "Interval estimation for a binomial proportion", Statistical Science 16 (2001).
func Jeffreys(met, n int, conf float64) Interval {
	possible(met, n)
	if n == 0 {
		return Interval{0, 1}
	}
	rate, tail := posterior(met, n), (1-conf)/2
	interval := Interval{0, 1}
	if met > 0 {
		interval.Lo = rate.Quantile(tail)
	}
	if met < n {
		interval.Hi = rate.Quantile(1 - tail)
	}
	return interval
}

// ProbAtLeast returns P(success rate ≥ target) under the Jeffreys posterior of met in n trials. It panics where met is not 0…n.
func ProbAtLeast(met, n int, target float64) float64 {
	if target <= 0 {
		return 1
	}
	if target >= 1 {
		return 0
	}
	// The upper tail through the mirrored distribution keeps its digits where 1 − CDF would not.
	return posterior(n-met, n).CDF(1 - target)
}

// maxTrials bounds the searches below: a target that more trials than this cannot show is
// answered with 0, "never".
const maxTrials = 1 << 20

// TrialsNeeded returns the least number of trials, misses of them not met, for which
// ProbAtLeast(·, target) reaches conf; 0 where no number does (target or conf of 1 and more).
func TrialsNeeded(target, conf float64, misses int) int {
	return least(misses, func(n int) bool { return ProbAtLeast(n-misses, n, target) >= conf-Epsilon })
}

// ExactTail returns P(X ≥ met) for X ~ Binomial(n, target), n ≥ 0; 0 for a met above n: how likely a dog that is only as good as
// target would have done at least this well.
func ExactTail(met, n int, target float64) float64 {
	if met <= 0 {
		return 1
	}
	if met > n {
		return 0
	}
	// P(X ≥ k) is the regularised incomplete beta function I_target(k, n−k+1).
	return distuv.Beta{Alpha: float64(met), Beta: float64(n-met) + 1}.CDF(target)
}

// ExactPass tells whether met of n trials show a rate above target at the confidence conf without
// leaning on a prior: ExactTail is at most 1 − conf. 45 clean trials, or 77 with one miss, show 95 %
// at 90 %.
func ExactPass(met, n int, target, conf float64) bool {
	return ExactTail(met, n, target) <= 1-conf+Epsilon
}

// ExactNeeded returns the least number of trials, misses of them not met, that passes ExactPass; 0
// where no number does.
func ExactNeeded(target, conf float64, misses int) int {
	return least(misses, func(n int) bool { return n > 0 && ExactPass(n-misses, n, target, conf) })
}

// least finds the smallest n ≥ from for which enough holds, which must stay true once it is.
func least(from int, enough func(n int) bool) int {
	step := 1
	for !enough(from + step - 1) {
		if step *= 2; step > maxTrials {
			return 0
		}
	}
	lo, hi := from+step/2-1, from+step-1
	if step == 1 {
		return hi
	}
	for hi-lo > 1 {
		if middle := (lo + hi) / 2; enough(middle) {
			hi = middle
		} else {
			lo = middle
		}
	}
	return hi
}

// ProbDecline returns P(second rate < first rate) for met1 of n1 and met2 of n2 trials with
// independent Jeffreys posteriors, to about 1e-10: the mean of one posterior's CDF over the other. Relative to a probability near 0 as
// well, as nothing is subtracted from 1.
func ProbDecline(met1, n1, met2, n2 int) float64 {
	first, second := posterior(met1, n1), posterior(met2, n2)
	if n2 > n1 {
		return mean(second, func(_, cos2 float64) float64 { return turned(first).CDF(cos2) }) // P(first > x)
	}
	return mean(first, func(sin2, _ float64) float64 { return second.CDF(sin2) })
}

// turned is the distribution of one less what the other says.
func turned(d distuv.Beta) distuv.Beta { return distuv.Beta{Alpha: d.Beta, Beta: d.Alpha} }

// mean is the mean of f over a posterior, with f of x and of 1 − x; f changes more slowly than the posterior does. With x = sin²θ a
// density of whole counts is an even power of sine and cosine, without poles, and nearly normal in θ with a standard deviation of 1 ÷
// 2√(α+β): what lies beyond twelve of them is nothing.
func mean(over distuv.Beta, f func(x, rest float64) float64) float64 {
	a, b := over.Alpha, over.Beta
	lnA, _ := math.Lgamma(a)
	lnB, _ := math.Lgamma(b)
	lnAB, _ := math.Lgamma(a + b)
	norm := lnAB - lnA - lnB
	power := func(x, to float64) float64 { // to·ln x, 0 where to is
		if to == 0 {
			return 0
		}
		return to * math.Log(x)
	}
	integrand := func(theta float64) float64 {
		sin, cos := math.Sincos(theta)
		return 2 * math.Exp(power(sin, 2*a-1)+power(cos, 2*b-1)+norm) * f(sin*sin, cos*cos)
	}
	const deviations, panels = 12, 8
	mid, wide := math.Asin(math.Sqrt(a/(a+b))), deviations/(2*math.Sqrt(a+b))
	from, to := math.Max(0, mid-wide), math.Min(math.Pi/2, mid+wide)
	sum := 0.0
	for i := range panels {
		sum += quad.Fixed(integrand, from+(to-from)*float64(i)/panels, from+(to-from)*float64(i+1)/panels, 32, nil, 0)
	}
	return sum
}
