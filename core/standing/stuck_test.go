package standing_test

import (
	"fmt"
	"math"
	"math/rand/v2"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/decision"
	"patientfox/core/progression"
	"patientfox/core/standing"
)

// climb works a ladder of ten steps in sessions of four sets of five, step up at five and back at two or fewer, and answers after each
// session until the top whether the step counts as stuck, with the step that was worked. A wall is a step that is far harder, 0 for none.
func climb(rng *rand.Rand, ability, wall float64, sessions int) (stuck []bool, at []int) {
	var ladder []progression.Step
	for i := range 10 {
		ladder = append(ladder, progression.Step{ID: fmt.Sprint(i)})
	}
	l := standing.Ladder{All: ladder, Now: ladder, MaxRung: 1}
	var visits []standing.Visit
	step := 0
	for s := range sessions {
		v := standing.Visit{Session: fmt.Sprint(s), Opened: int64(s), Day: "2026-03-01"}
		for set := range 4 {
			hard := 0.45 * float64(step)
			if wall > 0 && float64(step) >= wall {
				hard += 4
			}
			met := 0
			for range 5 {
				if rng.Float64() < 1/(1+math.Exp(hard-ability)) {
					met, ability = met+1, ability+0.012
				}
			}
			said, to, why := decision.Repeat, step, progression.WhyStepUp
			switch {
			case met == 5 && step < 9:
				said, to = decision.StepUp, step+1
			case met <= 2 && step > 0:
				said, to, why = decision.StepBack, step-1, progression.WhyStepBack
			}
			v.Verdicts = append(v.Verdicts, standing.Verdict{
				Step: ladder[step].ID, At: float64(2 * set), Recommended: said, Action: string(said), Sets: true,
			})
			if to != step {
				move := progression.Move{ID: fmt.Sprint(s, set), From: ladder[step].ID, To: ladder[to].ID, Why: why}
				v.Moves = append(v.Moves, standing.Move{Move: move, At: float64(2*set + 1)})
			}
			step = to
		}
		visits = append(visits, v)
		now := standing.Of(l, ladder, visits, nil)
		stuck = append(stuck, decision.Stuck(decision.Facts{Repeats: now.Repeats, Entries: now.Entries, Stalled: now.Stalled}))
		if at = append(at, step); step == 9 {
			break
		}
	}
	return stuck, at
}

// A dog that climbs is called stuck after at most one session in twelve; a step that was repeated thrice or returned to twice would alone
// say so after every second. Nine in ten of those that cannot get past a step are found within ten sessions of coming near it.
func TestADogThatClimbsIsNotStuck(t *testing.T) {
	rng := rand.New(rand.NewPCG(3, 11))
	said, all := 0, 0
	for i := range 300 {
		stuck, _ := climb(rng, 1.4+float64(i%4)*0.3, 0, 60)
		for _, one := range stuck {
			if all++; one {
				said++
			}
		}
	}
	t.Logf("of %d sessions of dogs that climb %.1f %% are called stuck", all, 100*float64(said)/float64(all))
	require.LessOrEqual(t, float64(said)/float64(all), 1.0/12)

	found := 0
	for range 200 {
		stuck, at := climb(rng, 2, 5, 60)
		came := 0
		for came < len(at) && at[came] < 4 {
			came++
		}
		for s := came; s < min(came+10, len(stuck)); s++ {
			if stuck[s] {
				found++
				break
			}
		}
	}
	t.Logf("of 200 dogs at a wall %d are found", found)
	require.GreaterOrEqual(t, found, 180)
}

// A proof of 97 points takes seven sessions of fifteen trials at least: a round that is under way is no repeat, one that is lost is.
func TestAProofUnderWayIsNotStuck(t *testing.T) {
	ladder := []progression.Step{{ID: "line on"}, {ID: "line off"}}
	repeats := func(codes ...decision.Code) int {
		var visits []standing.Visit
		for s := range 9 {
			visits = append(visits, standing.Visit{
				Session: fmt.Sprint(s), Opened: int64(s), Day: "2026-03-01",
				Verdicts: []standing.Verdict{{Step: "line on", Recommended: decision.Repeat, Action: string(decision.Repeat), Codes: codes}},
			})
		}
		return standing.Of(standing.Ladder{All: ladder, Now: ladder, MaxRung: 1}, ladder, visits, nil).Repeats
	}
	require.Zero(t, repeats(decision.ProofRound, decision.ProofPoints))
	require.Equal(t, 9, repeats(decision.ProofRound, decision.ProofPoints, decision.RoundOver))
	require.Equal(t, 9, repeats())
}
