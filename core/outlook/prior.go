package outlook

import (
	"math"
	"math/rand/v2"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat/distmv"
)

// Learnt is what a record said of a dog: how likely each form is, and where the dog's traits lie in it. It is a value that may be shared.
type Learnt struct {
	of map[Form]traitsLearnt
}

type traitsLearnt struct {
	share          float64 // how likely the form is
	mean, variance point   // of the traits, where the prior's are 0 and 1
}

// Prior is what is held of a dog before its record is read. It is a value that may be shared.
type Prior struct {
	Records int // of other dogs that moved it; 0 for Usual
	forms   map[Form]float64
	middle  map[Form]point
	spread  map[Form]point // variances
}

// MinRecords is from how many other dogs' records on a dog without one of its own can be forecast.
const MinRecords = 3

// Usual is the prior where nothing is known of any dog.
func Usual() Prior {
	p := Prior{forms: map[Form]float64{}, middle: map[Form]point{}, spread: map[Form]point{}}
	sum := 0.0
	for _, form := range Forms {
		sum += form.prior()
	}
	for _, form := range Forms {
		p.forms[form] = form.prior() / sum
		one := point{}
		for i := range one {
			one[i] = 1
		}
		p.spread[form] = one
	}
	return p
}

// How many records what is usual weighs as much as: for the forms, for the middle of a trait, for how far dogs differ in it.
const (
	usualForms  = 8
	usualMiddle = 2
	usualSpread = 5
	priorRounds = 25
)

// Learned is the prior that the records of other dogs make: what is usual, moved as far as they agree. Where they say nothing of a trait,
// that stays as usual. What each record says beyond the usual prior under which it was read is a normal likelihood; middle and spread of
// the dogs are then found by expectation and maximisation, and shrunk towards the usual. Source: D. Lindley and A. Smith, "Bayes Estimates
// for the Linear Model", Journal of the Royal Statistical Society B 34 (1972).
func Learned(records []Learnt) Prior {
	p := Usual()
	if p.Records = len(records); p.Records == 0 {
		return p
	}
	usual := p.forms
	p.forms = map[Form]float64{}
	for _, form := range Forms {
		n, sum := float64(usualForms), usualForms*usual[form]
		for _, one := range records {
			n, sum = n+1, sum+one.of[form].share
		}
		p.forms[form] = sum / n
		middle, spread := point{}, p.spread[form]
		for i := range middle {
			middle[i], spread[i] = learnTrait(records, form, i)
		}
		p.middle[form], p.spread[form] = middle, spread
	}
	return p
}

// learnTrait finds the middle and the variance of one trait among dogs.
func learnTrait(records []Learnt, form Form, trait int) (middle, variance float64) {
	variance = 1
	for range priorRounds {
		n, sum := float64(usualMiddle), 0.0
		square, dogs := float64(usualSpread), float64(usualSpread)
		for _, one := range records {
			l := one.of[form]
			v := l.variance[trait]
			if l.share < 0.05 || v <= 0 || v >= 0.98 {
				continue // it says nothing of this trait
			}
			precision := 1/v - 1 // of the likelihood: the posterior's less the prior's
			told := l.mean[trait] / v / precision
			after := 1 / (1/variance + precision)
			mean := after * (middle/variance + precision*told)
			n, sum = n+l.share, sum+l.share*mean
			square += l.share * ((mean-middle)*(mean-middle) + after)
			dogs += l.share
		}
		middle, variance = sum/n, square/dogs
	}
	return middle, variance
}

// normal is what the prior holds of the traits of a form.
func (p Prior) normal(form Form, rng *rand.Rand) spread {
	sigma, middle, variance := mat.NewSymDense(traitCount, nil), p.middle[form], p.spread[form]
	for i := range traitCount {
		sigma.SetSym(i, i, variance[i])
	}
	normal, _ := distmv.NewNormal(middle[:], sigma, rng)
	return normal
}

// learntOf sums up weighed points: those of one record.
func learntOf(all []weighed) Learnt {
	l := Learnt{of: map[Form]traitsLearnt{}}
	sum := 0.0
	for _, w := range all {
		sum += w.log
	}
	for _, form := range Forms {
		var t traitsLearnt
		for _, w := range all {
			if w.form == form {
				t.share += w.log / sum
				for i, z := range w.z {
					t.mean[i] += w.log / sum * z
				}
			}
		}
		for i := range t.mean {
			t.mean[i] /= math.Max(t.share, 1e-12)
		}
		for _, w := range all {
			if w.form == form {
				for i, z := range w.z {
					t.variance[i] += w.log / sum * (z - t.mean[i]) * (z - t.mean[i]) / math.Max(t.share, 1e-12)
				}
			}
		}
		l.of[form] = t
	}
	return l
}
