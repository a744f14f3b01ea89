package fit

import (
	"math"

	"gonum.org/v1/gonum/mat"

	"patientfox/core/load"
)

// Observation is a row of a logistic regression.
type Observation struct {
	X []float64
	Y bool
	W float64 // weight, 0 or more
}

// Prior are independent normal priors of the coefficients; each SD is above 0.
type Prior struct{ Mean, SD []float64 }

// Posterior is where a logistic regression has its mode, with Laplace's approximation round it.
type Posterior struct {
	Coef []float64
	Cov  [][]float64
	// Evaluations are how often gradient and Hessian were worked out.
	Evaluations int
}

// Bounds of Newton's method. The objective is strictly concave, so that it has one mode; from the prior's mean it takes four to nine
// steps.
const (
	maxEvaluations = 15
	converged      = 1e-9 // largest change of a coefficient
	maxHalvings    = 30
)

// Logistic finds the mode of a logistic regression with normal priors by Newton's method, from the prior's mean. Coefficients that
// are fixed stay at 0, and have no variance. It panics where a row or the prior has another length than fixed.
//
// The formulas are those of the penalised log-likelihood Σ w·(y·η − ln(1 + e^η)) − ½ Σ ((β − mean) ÷ sd)²; the covariance is the
// inverse of its negative Hessian.
func Logistic(rows []Observation, prior Prior, fixed []bool) Posterior {
	return logistic(rows, prior, fixed, prior.Mean)
}

func logistic(rows []Observation, prior Prior, fixed []bool, from []float64) Posterior {
	n := len(fixed)
	if len(prior.Mean) != n || len(prior.SD) != n {
		panic("fit: priors and coefficients differ in number")
	}
	var free []int
	beta := make([]float64, n)
	for j := range n {
		if !fixed[j] {
			free, beta[j] = append(free, j), from[j]
		}
	}
	p := Posterior{Coef: beta, Cov: make([][]float64, n)}
	for j := range p.Cov {
		p.Cov[j] = make([]float64, n)
	}
	if len(free) == 0 {
		return p
	}
	var chol mat.Cholesky
	gradient, step := mat.NewVecDense(len(free), nil), mat.NewVecDense(len(free), nil)
	curved := func() { // the latest Hessian, as a factor
		hessian := slopes(rows, prior, free, beta, gradient)
		p.Evaluations++
		if !chol.Factorize(hessian) {
			panic("fit: a prior's sd is not above 0") // with priors the Hessian is definite
		}
	}
	value := objective(rows, prior, free, beta)
	for p.Evaluations < maxEvaluations-1 {
		curved()
		_ = chol.SolveVecTo(step, gradient) // it is well conditioned by the priors
		largest := 0.0
		for i := range free {
			largest = math.Max(largest, math.Abs(step.AtVec(i)))
		}
		part := 1.0
		for range maxHalvings {
			next := moved(beta, free, step, part)
			if v := objective(rows, prior, free, next); v >= value-1e-12*math.Abs(value) {
				copy(beta, next)
				value = v
				break
			}
			part /= 2
		}
		if largest < converged {
			break
		}
	}
	curved()
	var inverse mat.SymDense
	_ = chol.InverseTo(&inverse)
	for i, a := range free {
		for k, b := range free {
			p.Cov[a][b] = inverse.At(i, k)
		}
	}
	return p
}

func moved(beta []float64, free []int, step *mat.VecDense, part float64) []float64 {
	next := append([]float64(nil), beta...)
	for i, j := range free {
		next[j] += part * step.AtVec(i)
	}
	return next
}

// slopes works out the gradient, and answers the negative Hessian.
func slopes(rows []Observation, prior Prior, free []int, beta []float64, gradient *mat.VecDense) *mat.SymDense {
	n := len(free)
	g, h := make([]float64, n), make([]float64, n*n)
	for _, r := range rows {
		p := load.Logistic(dot(r.X, beta))
		d, c := -p*r.W, p*(1-p)*r.W
		if r.Y {
			d += r.W
		}
		for i, a := range free {
			x := r.X[a]
			if x == 0 {
				continue
			}
			g[i] += d * x
			x *= c
			for k := i; k < n; k++ {
				h[i*n+k] += x * r.X[free[k]]
			}
		}
	}
	for i, j := range free {
		v := prior.SD[j] * prior.SD[j]
		g[i] -= (beta[j] - prior.Mean[j]) / v
		h[i*n+i] += 1 / v
		gradient.SetVec(i, g[i])
	}
	return mat.NewSymDense(n, h)
}

func objective(rows []Observation, prior Prior, free []int, beta []float64) float64 {
	sum := 0.0
	for _, r := range rows {
		eta := dot(r.X, beta)
		if r.Y {
			sum += r.W * eta
		}
		sum -= r.W * softplus(eta)
	}
	for _, j := range free {
		z := (beta[j] - prior.Mean[j]) / prior.SD[j]
		sum -= z * z / 2
	}
	return sum
}

func dot(x, beta []float64) (sum float64) {
	for j, b := range beta {
		sum += x[j] * b
	}
	return sum
}

// softplus is ln(1 + e^x), for large x too.
func softplus(x float64) float64 {
	if x > 0 {
		return x + math.Log1p(math.Exp(-x))
	}
	return math.Log1p(math.Exp(x))
}
