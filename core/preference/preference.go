package preference

import (
	"fmt"
	"math"
	"math/rand/v2"
	"slices"

	"gonum.org/v1/gonum/mat"
	"gonum.org/v1/gonum/stat/distuv"

	"patientfox/core/evidence"
)

// Fit is what a test says of its rewards, by their number.
type Fit struct {
	Strength []float64 // logits; 0 is the middle
	cov      *mat.SymDense
}

// Bounds of a test.
const (
	Min = 2 // rewards
	Max = 6
)

// Strengths fits the model of Bradley and Terry, P(i before j) = logistic(sᵢ − sⱼ), with a N(0,1) prior on each
// strength, by its mode (Newton's method); wins[i][j] is how often i was taken and j left. An error says that
// the table is not square or has a negative count.
func Strengths(wins [][]int) (Fit, error) {
	n := len(wins)
	for i, row := range wins {
		if len(row) != n {
			return Fit{}, fmt.Errorf("row %d of the wins has %d entries, not %d", i, len(row), n)
		}
		for _, w := range row {
			if w < 0 {
				return Fit{}, fmt.Errorf("row %d of the wins has a negative count", i)
			}
		}
	}
	fit := Fit{Strength: make([]float64, n)}
	if n == 0 {
		return fit, nil
	}
	var chol mat.Cholesky
	for range 100 {
		gradient, hessian := slopes(wins, fit.Strength)
		if !chol.Factorize(hessian) {
			return Fit{}, fmt.Errorf("the strengths have no mode")
		}
		var step mat.VecDense
		if err := chol.SolveVecTo(&step, gradient); err != nil {
			return Fit{}, err
		}
		most := 0.0
		for i := range n {
			fit.Strength[i] += step.AtVec(i)
			most = math.Max(most, math.Abs(step.AtVec(i)))
		}
		if most < 1e-12 {
			break
		}
	}
	_, hessian := slopes(wins, fit.Strength)
	chol.Factorize(hessian)
	fit.cov = mat.NewSymDense(n, nil)
	return fit, chol.InverseTo(fit.cov)
}

// slopes are the gradient of the log posterior and its negative second derivatives.
func slopes(wins [][]int, s []float64) (*mat.VecDense, *mat.SymDense) {
	n := len(s)
	gradient, hessian := mat.NewVecDense(n, nil), mat.NewSymDense(n, nil)
	for i := range n {
		g, h := -s[i], 1.0
		for j := range n {
			met := float64(wins[i][j] + wins[j][i])
			if i == j || met == 0 {
				continue
			}
			p := logistic(s[i] - s[j])
			g += float64(wins[i][j]) - met*p
			h += met * p * (1 - p)
			if j > i {
				hessian.SetSym(i, j, -met*p*(1-p))
			}
		}
		gradient.SetVec(i, g)
		hessian.SetSym(i, i, h)
	}
	return gradient, hessian
}

func logistic(x float64) float64 { return 1 / (1 + math.Exp(-x)) }

// SD is the standard deviation of a strength (Laplace's approximation).
func (f Fit) SD(i int) float64 { return math.Sqrt(f.cov.At(i, i)) }

// Better is the probability that i is the stronger of two.
func (f Fit) Better(i, j int) float64 {
	sd := math.Sqrt(f.cov.At(i, i) + f.cov.At(j, j) - 2*f.cov.At(i, j))
	return distuv.UnitNormal.CDF((f.Strength[i] - f.Strength[j]) / sd)
}

// edges of the tiers on the scale of logistic(strength).
var edges = []float64{0.2, 0.4, 0.6, 0.8}

// Tier is 1…5 for a strength: one more than how many edges lie below logistic(strength).
func Tier(strength float64) int {
	tier := 1
	for _, edge := range edges {
		if edge < logistic(strength) {
			tier++
		}
	}
	return tier
}

// likely is the width of the range that is said beside a tier: 80 %.
const likely = 1.2816

// Range is from which tier to which a reward lies, with 80 %.
func (f Fit) Range(i int) (lo, hi int) {
	return Tier(f.Strength[i] - likely*f.SD(i)), Tier(f.Strength[i] + likely*f.SD(i))
}

// Pair is one offer: which reward lies left and which right, by number.
type Pair struct{ Left, Right int }

// Plan is the order of offers for n rewards: every pair twice, sides swapped the second time, so that each
// reward lies as often left as right. Neither a pair nor, where it can be helped, a reward comes twice running.
func Plan(n int, seed uint64) []Pair {
	rng := rand.New(rand.NewPCG(seed, 5))
	var first []Pair
	for i := range n {
		for j := i + 1; j < n; j++ {
			pair := Pair{i, j}
			if (i+j)%2 == 0 {
				pair = Pair{j, i}
			}
			first = append(first, pair)
		}
	}
	if rng.IntN(2) == 0 {
		for i, p := range first {
			first[i] = Pair{p.Right, p.Left}
		}
	}
	var plan []Pair
	for round := range 2 {
		left := slices.Clone(first)
		rng.Shuffle(len(left), func(i, j int) { left[i], left[j] = left[j], left[i] })
		for len(left) > 0 {
			at := apart(left, plan)
			pair := left[at]
			left = slices.Delete(left, at, at+1)
			if round == 1 {
				pair = Pair{pair.Right, pair.Left}
			}
			plan = append(plan, pair)
		}
	}
	return plan
}

// apart finds the pair that shares least with the one before.
func apart(left []Pair, plan []Pair) int {
	if len(plan) == 0 {
		return 0
	}
	last := plan[len(plan)-1]
	best, fewest := 0, 3
	for i, p := range left {
		shared := 0
		for _, one := range []int{p.Left, p.Right} {
			if one == last.Left || one == last.Right {
				shared++
			}
		}
		if shared < fewest {
			best, fewest = i, shared
		}
	}
	return best
}

// Doubts of a test.
const (
	sure  = 0.8 // a pair is told apart from here on
	alike = 8   // offers of one pair after which two count as equally good
	more  = 3   // pairs that are asked for at a time
)

// Doubt is a pair that the test cannot tell apart yet.
type Doubt struct {
	Better, Worse int
	P             float64 // that the better one is the better
}

// Doubts are the neighbours in rank that are not told apart, the least sure first. Two that were offered often
// enough count as equally good and are none.
func (f Fit) Doubts(wins [][]int) []Doubt {
	rank := f.Rank()
	var doubts []Doubt
	for k := 1; k < len(rank); k++ {
		i, j := rank[k-1], rank[k]
		if p := f.Better(i, j); p < sure && wins[i][j]+wins[j][i] < alike {
			doubts = append(doubts, Doubt{i, j, p})
		}
	}
	slices.SortStableFunc(doubts, func(a, b Doubt) int {
		switch {
		case a.P < b.P:
			return -1
		case a.P > b.P:
			return 1
		}
		return 0
	})
	return doubts
}

// More are the three pairs that would tell most: the doubts, over and over. each side in turn; offered is how
// often each pair lay with the lower number left.
func More(doubts []Doubt, offered func(left, right int) int) []Pair {
	var pairs []Pair
	given := map[Pair]int{}
	count := func(p Pair) int { return offered(p.Left, p.Right) + given[p] }
	for k := 0; k < more && len(doubts) > 0; k++ {
		d := doubts[k%len(doubts)]
		pair := Pair{d.Better, d.Worse}
		if swapped := (Pair{d.Worse, d.Better}); count(swapped) < count(pair) {
			pair = swapped
		}
		given[pair]++
		pairs = append(pairs, pair)
	}
	return pairs
}

// Rank lists the rewards, best first; of equal ones that with the lower number.
func (f Fit) Rank() []int {
	rank := make([]int, len(f.Strength))
	for i := range rank {
		rank[i] = i
	}
	slices.SortStableFunc(rank, func(i, j int) int {
		switch {
		case f.Strength[i] > f.Strength[j]:
			return -1
		case f.Strength[i] < f.Strength[j]:
			return 1
		}
		return 0
	})
	return rank
}

// biasAt is how unlikely a run of one side must be by chance to be called a bias.
const biasAt = 0.05

// SideBias tells whether a dog takes one side rather than one reward: the two-sided exact binomial test of an
// even chance. p is its probability.
func SideBias(left, right int) (p float64, biased bool) {
	n := left + right
	if n == 0 {
		return 1, false
	}
	p = math.Min(1, 2*evidence.ExactTail(max(left, right), n, 0.5))
	return p, p <= biasAt
}
