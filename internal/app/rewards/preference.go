package rewards

import (
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"strconv"

	"patientfox/core/preference"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// PreferenceView is a preference test under way or done.
type PreferenceView struct {
	ID, DogID, Dog string
	Ord            int       // of the next offer, from 1
	Of             int       // offers planned so far
	Left, Right    app.Named // the next offer
	Over           bool      // no further offer is planned
	More           bool      // the offers are those asked for beyond the plan
	Says           string    // what the test says so far, in a sentence
	Doubt          string    // what it cannot tell yet
	Bias           string
	Neither        string
	Rows           []PreferenceRow
	Ready          bool // tiers can be taken
	Done           bool
	Last           string // the offer before, in words
}

// PreferenceRow is one reward of a test, best first.
type PreferenceRow struct {
	Name           string
	Won, Of        int
	Tier, Lo, Hi   int
	At, LoAt, HiAt float64 // logistic(strength) and its likely range, 0…1
	reward         string
}

// StartTest begins a preference test of the rewards marked in the form and returns its id.
func (p *Cases) StartTest(ctx context.Context, dog string, t form.Typed) (string, error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return "", err
	}
	today := s.Day(p.Ms())
	rows, err := q.Rewards(ctx, []string{dog}, today)
	if err != nil {
		return "", err
	}
	var ids []string
	for _, row := range rows {
		if t["in_"+row.ID] != "" {
			ids = append(ids, row.ID)
		}
	}
	ps := form.Problems{}
	if len(ids) < preference.Min || len(ids) > preference.Max {
		ps.Add("test",
			fmt.Sprintf("Mark %d to %d rewards. With %d there are %d offers.", preference.Min, preference.Max, preference.Max,
				preference.Max*(preference.Max-1)))
	}
	if err := ps.Err(); err != nil {
		return "", err
	}
	return p.Once(ctx, t, func(q store.Q) (string, error) {
		test := store.Test{
			ID: app.NewID(), Dog: dog, Rewards: store.JSON(ids), Seed: rand.Int64(), Day: today, Made: p.Ms(),
		} //nolint:gosec // an order of offers
		return test.ID, q.AddTest(ctx, test)
	})
}

// tested is a test with what it says so far.
type tested struct {
	store.Test
	ids     []string
	names   []string
	choices []store.Choice
	wins    [][]int
	fit     preference.Fit
	plan    []preference.Pair
	doubts  []preference.Doubt
}

func loadTest(ctx context.Context, q store.Q, id string) (t tested, dog store.Dog, err error) {
	if t.Test, err = q.Test(ctx, id); err != nil {
		return t, dog, app.Found(err)
	}
	if dog, err = q.Dog(ctx, t.Dog); err != nil {
		return t, dog, app.Found(err)
	}
	if err = store.FromJSON(t.Rewards, &t.ids); err != nil {
		return t, dog, err
	}
	for _, one := range t.ids {
		row, err := q.Reward(ctx, one)
		if err != nil {
			return t, dog, app.Found(err)
		}
		t.names = append(t.names, row.Name)
	}
	if t.choices, err = q.Choices(ctx, id); err != nil {
		return t, dog, err
	}
	err = t.count()
	return t, dog, err
}

// count works out what the choices say, and what is offered next.
func (t *tested) count() (err error) {
	t.wins, _ = t.tally(len(t.choices))
	if t.fit, err = preference.Strengths(t.wins); err != nil {
		return err
	}
	t.doubts = t.fit.Doubts(t.wins)
	t.plan = preference.Plan(len(t.ids), uint64(t.Seed)) //nolint:gosec // any number is a seed
	// Beyond the plan three more at a time, as they were worked out when those before had been answered.
	for len(t.plan) < len(t.choices) {
		pairs, err := t.more(len(t.plan))
		if err != nil || len(pairs) == 0 {
			return err
		}
		t.plan = append(t.plan, pairs...)
	}
	return nil
}

// more are the three pairs that the first n answers ask for.
func (t tested) more(answers int) ([]preference.Pair, error) {
	wins, offered := t.tally(answers)
	fit, err := preference.Strengths(wins)
	if err != nil {
		return nil, err
	}
	return preference.More(fit.Doubts(wins), func(l, r int) int { return offered[preference.Pair{Left: l, Right: r}] }), nil
}

// tally counts the first n answers: which was taken of which, and how each pair lay.
func (t tested) tally(answers int) (wins [][]int, offered map[preference.Pair]int) {
	wins, offered = make([][]int, len(t.ids)), map[preference.Pair]int{}
	for i := range wins {
		wins[i] = make([]int, len(t.ids))
	}
	for _, c := range t.choices[:answers] {
		l, r := slices.Index(t.ids, c.Left), slices.Index(t.ids, c.Right)
		offered[preference.Pair{Left: l, Right: r}]++
		switch c.Took {
		case c.Left:
			wins[l][r]++
		case c.Right:
			wins[r][l]++
		}
	}
	return wins, offered
}

// Preference shows a test: the next offer, or what it says.
func (p *Cases) Preference(ctx context.Context, id string, more bool) (v PreferenceView, err error) {
	t, dog, err := loadTest(ctx, p.Store.Read(), id)
	if err != nil {
		return v, err
	}
	v = PreferenceView{ID: id, DogID: dog.ID, Dog: dog.Name, Ord: len(t.choices) + 1, Of: len(t.plan), Done: t.Done != nil}
	n := len(t.ids)
	if len(t.choices) >= len(t.plan) && more && t.Done == nil {
		pairs, err := t.more(len(t.choices))
		if err != nil {
			return v, err
		}
		t.plan = append(t.plan, pairs...)
		v.Of = len(t.plan)
	}
	v.More = len(t.choices) >= n*(n-1)
	if v.Over = len(t.choices) >= len(t.plan) || v.Done; !v.Over {
		next := t.plan[len(t.choices)]
		v.Left, v.Right = app.Named{ID: t.ids[next.Left], Name: t.names[next.Left]}, app.Named{ID: t.ids[next.Right], Name: t.names[next.Right]}
	}
	v.Ready = len(t.choices) >= n*(n-1)/2
	t.says(&v)
	return v, nil
}

// says fills in what the test says so far.
func (t tested) says(v *PreferenceView) {
	left, right, none := 0, 0, 0
	for _, c := range t.choices {
		switch c.Took {
		case "":
			none++
		case c.Left:
			left++
		default:
			right++
		}
	}
	if len(t.choices) > 0 {
		c := t.choices[len(t.choices)-1]
		name := func(id string) string { return t.names[max(0, slices.Index(t.ids, id))] }
		if v.Last = "Took " + name(c.Took); c.Took == "" {
			v.Last = fmt.Sprintf("Took neither %s nor %s", name(c.Left), name(c.Right))
		}
	}
	for _, i := range t.fit.Rank() {
		row := PreferenceRow{Name: t.names[i], reward: t.ids[i], Tier: preference.Tier(t.fit.Strength[i])}
		for j := range t.ids {
			row.Won += t.wins[i][j]
			row.Of += t.wins[i][j] + t.wins[j][i]
		}
		row.Lo, row.Hi = t.fit.Range(i)
		sd := 1.2816 * t.fit.SD(i)
		row.At, row.LoAt, row.HiAt = share(t.fit.Strength[i]), share(t.fit.Strength[i]-sd), share(t.fit.Strength[i]+sd)
		v.Rows = append(v.Rows, row)
	}
	if len(t.choices) == 0 {
		return
	}
	best := v.Rows[0]
	v.Says = fmt.Sprintf("%s leads: taken in %d of %s.", best.Name, best.Won, say.Count(best.Of, "offer"))
	if len(t.doubts) > 0 {
		d := t.doubts[0]
		v.Doubt = fmt.Sprintf("Not sure yet whether %s is worth more than %s (%s): three more pairs.", t.names[d.Better],
			t.names[d.Worse], say.Percent(d.P))
	}
	if prob, biased := preference.SideBias(left, right); biased {
		side, n := "left", left
		if right > left {
			side, n = "right", right
		}
		v.Bias = fmt.Sprintf("It took the %s one %d of %d times (by chance: %s): that is a side, not a taste. Hold them further "+
			"apart, or set them down, and go on.",
			side, n, left+right, percentSmall(prob))
	}
	if none > 0 {
		v.Neither = fmt.Sprintf("Neither was taken %s: not hungry, or not at ease here?", say.Times(none))
	}
}

func share(logit float64) float64 { return 1 / (1 + math.Exp(-logit)) }

// percentSmall writes a small probability.
func percentSmall(p float64) string {
	if p < 0.01 {
		return "under 1 %"
	}
	return say.Percent(p)
}

// Choose keeps the answer to one offer: typed["took"] is "left", "right" or "none", typed["ord"] which offer it
// was; an answer that came twice counts once.
func (p *Cases) Choose(ctx context.Context, id string, t form.Typed) error {
	ord, err := strconv.Atoi(t.Text("ord"))
	if err != nil {
		return app.ErrNotFound
	}
	return p.Store.Write(ctx, func(q store.Q) error {
		test, err := q.Test(ctx, id)
		if err != nil {
			return app.Found(err)
		}
		var ids []string
		if err := store.FromJSON(test.Rewards, &ids); err != nil {
			return err
		}
		left, right := t.Text("left"), t.Text("right")
		if test.Done != nil || !slices.Contains(ids, left) || !slices.Contains(ids, right) || left == right {
			return app.ErrNotFound
		}
		choices, err := q.Choices(ctx, id)
		if err != nil || ord != len(choices)+1 {
			return err // answered already
		}
		c := store.Choice{Test: id, Ord: ord, Left: left, Right: right, Made: p.Ms()}
		switch t.Text("took") {
		case "left":
			c.Took = left
		case "right":
			c.Took = right
		case "none":
		default:
			return app.ErrNotFound
		}
		_, err = q.AddChoice(ctx, c) // the second of two presses answers nothing: the page shows what comes next
		return err
	})
}

// UndoChoice takes the last answer back.
func (p *Cases) UndoChoice(ctx context.Context, id string) error {
	return p.Store.Write(ctx, func(q store.Q) error {
		test, err := q.Test(ctx, id)
		if err != nil {
			return app.Found(err)
		}
		if test.Done != nil {
			return nil
		}
		return q.DropChoice(ctx, id)
	})
}

// TakeTiers makes the test's tiers those of its rewards; tiers set by hand give way to them.
func (p *Cases) TakeTiers(ctx context.Context, id string) (dog string, err error) {
	t, d, err := loadTest(ctx, p.Store.Read(), id)
	if err != nil {
		return "", err
	}
	return d.ID, p.Store.Write(ctx, func(q store.Q) error {
		for i, reward := range t.ids {
			lo, hi := t.fit.Range(i)
			if err := q.SetTested(ctx, reward, preference.Tier(t.fit.Strength[i]), lo, hi, t.Day); err != nil {
				return err
			}
		}
		return q.EndTest(ctx, id, p.Ms())
	})
}

// DropTest throws a test away; tiers taken from it stay.
func (p *Cases) DropTest(ctx context.Context, id string) (dog string, err error) {
	t, err := p.Store.Read().Test(ctx, id)
	if err != nil {
		return "", app.Found(err)
	}
	return t.Dog, p.Away(ctx, true, func(q store.Q, at *int64) (bool, error) { return q.DeleteTest(ctx, id, at) })
}
