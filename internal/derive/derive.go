package derive

import (
	"context"
	"encoding/json"
	"fmt"
	"reflect"
	"slices"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/lookback"
	"patientfox/core/phrase"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/store"
)

// Book is what the fold reads of plans and skills: every version of those named in a log.
type Book struct {
	steps map[string]map[int][]progression.Step
	kinds map[string]work.Kind
	defs  map[string]map[int]criteria.Definition
	Plans map[string]store.Plan
}

// Steps and Work are what the fold asks.
func (b Book) Steps(plan string, version int) []progression.Step { return b.steps[plan][version] }

func (b Book) Work(skill string, version int) (work.Kind, criteria.Definition) {
	return b.kinds[skill], b.defs[skill][version]
}

// union is every step that a plan ever had, in an order that agrees with each version.
func (b Book) union(plan string) []progression.Step {
	versions := b.steps[plan]
	var ordered [][]progression.Step
	for v := 1; len(ordered) < len(versions) && v <= b.Plans[plan].Version; v++ {
		if steps, ok := versions[v]; ok {
			ordered = append(ordered, steps)
		}
	}
	return progression.Union(ordered)
}

// Current are the steps of the newest version of a plan.
func (b Book) Current(plan string) []progression.Step { return b.steps[plan][b.Plans[plan].Version] }

// ReadBook loads every version of the plans named.
func ReadBook(ctx context.Context, q store.Q, plans []string) (Book, error) {
	b := Book{
		map[string]map[int][]progression.Step{}, map[string]work.Kind{}, map[string]map[int]criteria.Definition{}, map[string]store.Plan{},
	}
	var skills []string
	found, err := q.PlansByID(ctx, plans)
	if err != nil {
		return b, err
	}
	for _, row := range found {
		b.Plans[row.ID] = row
		b.kinds[row.Skill] = work.Kind(row.Kind)
		skills = append(skills, row.Skill)
	}
	rows, err := q.StepsOfVersions(ctx, plans)
	if err != nil {
		return b, err
	}
	for start := 0; start < len(rows); {
		end := start
		for end < len(rows) && rows[end].Plan == rows[start].Plan && rows[end].Version == rows[start].Version {
			end++
		}
		steps, err := store.ReadSteps(rows[start:end])
		if err != nil {
			return b, err
		}
		if b.steps[rows[start].Plan] == nil {
			b.steps[rows[start].Plan] = map[int][]progression.Step{}
		}
		b.steps[rows[start].Plan][rows[start].Version] = steps
		start = end
	}
	defs, err := q.Definitions(ctx, skills)
	if err != nil {
		return b, err
	}
	for _, d := range defs {
		if b.defs[d.Skill] == nil {
			b.defs[d.Skill] = map[int]criteria.Definition{}
		}
		var def criteria.Definition
		if err := json.Unmarshal([]byte(d.Body), &def); err != nil {
			return b, err
		}
		b.defs[d.Skill][d.Version] = def
	}
	return b, nil
}

// PlansIn lists the plans that a log's blocks name.
func PlansIn(events []record.Event) []string {
	var plans []string
	for _, e := range events {
		if e.Kind != record.KBlock {
			continue
		}
		var b record.BlockData
		if json.Unmarshal(e.Data, &b) == nil && b.Plan != "" && !slices.Contains(plans, b.Plan) {
			plans = append(plans, b.Plan)
		}
	}
	return plans
}

// Fold reads a session's log under the versions it names; the book has the plans given beside them.
func (p *Reader) Fold(ctx context.Context, q store.Q, session string, beside ...string) (*record.Log, *record.Session, Book, error) {
	events, err := q.Events(ctx, session)
	if err != nil {
		return nil, nil, Book{}, err
	}
	b, err := ReadBook(ctx, q, append(PlansIn(events), beside...))
	if err != nil {
		return nil, nil, b, err
	}
	log, folded, err := p.Folds(b, events...)
	return log, folded, b, err
}

// adopted are the moves of a session that bring a step made in the field which no version of its plan has, with the plan.
func adopted(f *record.Session, b Book) (moves []adoption) {
	for _, m := range f.Moves {
		if m.New == nil || !m.Followed {
			continue
		}
		for _, block := range f.Blocks {
			if _, known := b.Plans[block.Plan]; block.ID == m.Block && known && progression.Index(b.union(block.Plan), m.New.ID) < 0 {
				moves = append(moves, adoption{m, block.Plan})
			}
		}
	}
	return moves
}

// names tells whether a session was at a place that nobody has named yet.
func names(ctx context.Context, q store.Q, f *record.Session) (bool, error) {
	if f.PlaceNamed == "" {
		return false, nil
	}
	_, known, err := placeOf(ctx, q, f)
	return !known, err
}

// placeOf is the id of the place of a session that named it: the one that has the name already, where two devices without a signal
// gave it at once.
func placeOf(ctx context.Context, q store.Q, f *record.Session) (id string, known bool, err error) {
	if known, err = q.KnowsPlace(ctx, f.Place); known || err != nil {
		return f.Place, known, err
	}
	places, err := q.Places(ctx)
	for _, one := range places {
		if strings.EqualFold(one.Name, f.PlaceNamed) {
			return one.ID, true, err
		}
	}
	return f.Place, false, err
}

// name writes down the place that a session named, and answers where the session was.
func (p *Reader) name(ctx context.Context, q store.Q, f *record.Session) (place string, err error) {
	if f.PlaceNamed == "" {
		return f.Place, nil
	}
	place, known, err := placeOf(ctx, q, f)
	if err == nil && !known {
		err = q.AddPlace(ctx, store.Place{ID: place, Name: f.PlaceNamed, Made: f.Wall})
	}
	return place, err
}

type adoption struct {
	record.Move
	plan string
}

// adopt makes the next version of a plan for each step made in the field that no version has.
func (p *Reader) adopt(ctx context.Context, q store.Q, s store.Practice, folded *record.Session, b Book) error {
	for _, m := range adopted(folded, b) {
		row := b.Plans[m.plan]
		if progression.Index(b.union(m.plan), m.New.ID) >= 0 {
			continue // the move before brought it
		}
		steps := progression.Insert(b.Current(m.plan), *m.New, m.Above)
		v := store.PlanVersion{Plan: row.Main, Version: row.Version + 1, Body: row.Body, Why: "split", Made: p.Ms(), MadeBy: s.Person}
		if newest, err := q.AddPlanVersion(ctx, v, store.StepRows(steps)); err != nil {
			return err
		} else if !newest {
			return fmt.Errorf("plan %s: version %d was made meanwhile", row.Main, v.Version) // read anew, the next time round
		}
		for id, one := range b.Plans {
			if one.Main == row.Main { // its tracks climb the same ladder
				one.Version++
				b.Plans[id] = one
				b.steps[id][one.Version] = steps
			}
		}
	}
	return nil
}

// signsOf are the signs that stand.
func signsOf(f *record.Session) (list []work.Sign) {
	for _, n := range f.Notes {
		if n.Sign != "" {
			list = append(list, n.Sign)
		}
	}
	return list
}

// Rows turns a folded session into its derived rows.
func Rows(f *record.Session, s store.Practice, id string) store.Derived {
	d := store.Derived{Session: store.Session{
		ID: id, Fold: record.FoldVersion, Opened: f.Wall, Dog: f.Dog, Place: f.Place, Pieces: f.Pieces, Tags: "[]", Sheet: f.Sheet,
		Class: f.Class, Signs: "[]",
	}}
	if len(f.Warm) > 0 && f.Warm[0].Part != "" {
		d.Session.Ready = store.JSON(readyOf(f))
	}
	if len(f.Tags) > 0 {
		d.Session.Tags = store.JSON(f.Tags)
	}
	if signs := signsOf(f); len(signs) > 0 {
		d.Session.Signs = store.JSON(signs)
	}
	if f.Wall > 0 {
		d.Session.Day = day(s, f.Wall)
	}
	if f.Ended != nil {
		end := f.EndAt
		d.Session.Ended, d.Session.Reason, d.Session.Next = &end, f.Ended.Reason, f.Ended.Next
	}
	if f.At != nil {
		d.Session.Last = f.At.Plan
	}
	d.Blocks = blockRows(f, id)
	blocks := map[string]*record.Block{}
	for _, b := range f.Blocks {
		blocks[b.ID] = b
	}
	of := func(block string) record.Block {
		if b := blocks[block]; b != nil {
			return *b
		}
		return record.Block{}
	}
	for i, t := range f.Trials {
		b := of(t.Block)
		d.Trials = append(d.Trials, store.Trial{
			Trial: t, Ord: i, Plan: b.Plan, Definition: b.Definition, Level: b.Level, Approx: lookback.Approximation(t, blocks[t.Block]),
			CardSays: lookback.Card(t, blocks[t.Block], phrase.Words{}),
		})
	}
	d.Fed = fed(f, id)
	for i, m := range f.Moves {
		d.Moves = append(d.Moves, store.Move{
			ID: m.ID, Session: id, Ord: i, Plan: of(m.Block).Plan, Level: of(m.Block).Level,
			At: m.At, From: m.From, To: m.To, Why: string(m.Why),
		})
	}
	d.Verdicts = verdictRows(f, id)
	return d
}

// readyOf sums a readiness test up.
func readyOf(f *record.Session) store.Ready {
	tried := make([]decision.Tried, len(f.Warm))
	r := store.Ready{Ticks: f.Warm[0].Ticks}
	for i, w := range f.Warm {
		tried[i] = decision.Tried{Part: w.Part, Answer: w.Answer}
		switch w.Part {
		case decision.PartLook:
			r.LookS = w.S
		case decision.PartName:
			r.NameS = w.S
		case decision.PartBack:
			r.BackS = w.S
		}
	}
	verdict, signs, due := decision.ReadyTo(tried)
	if r.Signs = signs; due {
		r.Verdict = string(verdict)
	}
	return r
}

func blockRows(f *record.Session, id string) (rows []store.Block) {
	for i, b := range f.Blocks {
		skills := ""
		if len(b.Skills) > 0 {
			skills = store.JSON(b.Skills)
		}
		row := store.Block{
			ID: b.ID, Session: id, Ord: i, Plan: b.Plan, PlanVersion: b.PlanVersion, Track: b.Track, Skill: b.Skill, Skills: skills,
			Definition: b.Definition, Dog: b.Dog, Handler: b.Handler, At: b.At, Logged: b.Logged, Unlogged: b.Unlogged, Said: b.UnloggedConfirmed,
			Left: b.Left, Mode: string(b.Mode), Offers: b.Offers, Growls: f.GrowlsIn(b.ID), Guest: b.Dog != f.Dog,
			Arousal: f.ArousalIn(b.ID), Withheld: b.Withheld, Level: b.Level,
		}
		if b.Experiment != nil {
			row.Experiment = store.JSON(b.Experiment)
		}
		for _, pay := range f.Pays {
			if pay.Block == b.ID {
				row.Pays++
				row.Pieces += pay.Pieces
				if pay.LifeReward {
					row.Life++
				}
			}
		}
		for _, decoy := range f.Decoys {
			if decoy.Block == b.ID && decoy.Tool == "" {
				row.Decoys++
				if decoy.Reaction == work.Withdraws {
					row.Shied++
				}
			}
		}
		row.Active = f.ActiveIn(b.ID)
		rows = append(rows, row)
	}
	return rows
}

func verdictRows(f *record.Session, id string) (rows []store.Verdict) {
	for i, v := range f.Verdicts {
		if session.Readiness(v.Recommended, v.Action) {
			continue // of the warm-up, and of no plan
		}
		reasons := string(v.Reasons)
		if reasons == "" {
			reasons = "[]"
		}
		rule, reads := string(v.Rule), "[]"
		if rule == "" {
			rule = "{}"
		}
		if len(v.TrialIDs) > 0 {
			reads = store.JSON(v.TrialIDs)
		}
		of := f.LineOf(v.Block)
		rows = append(rows, store.Verdict{
			ID: v.ID, Session: id, Ord: i, Plan: of.Plan, Level: of.Level, Step: v.Step, At: v.At, Recommended: v.Recommended, Action: v.Action,
			Reasons: reasons, Rule: rule, Reads: reads,
		})
	}
	return rows
}

// fed adds up what was paid with what, block by block, and in the last block what was eaten beyond that.
func fed(f *record.Session, session string) []store.Fed {
	var list []store.Fed
	row := func(block, reward string) *store.Fed {
		at := slices.IndexFunc(list, func(one store.Fed) bool { return one.Block == block && one.Reward == reward })
		if at < 0 {
			list = append(list, store.Fed{Session: session, Block: block, Reward: reward})
			at = len(list) - 1
		}
		return &list[at]
	}
	for _, pay := range f.Pays {
		pieces := pay.Pieces
		if pay.As == reinforce.Lasting {
			pieces = 1 // one filling, whose energy its reward says
		}
		if pay.LifeReward || pieces == 0 {
			continue
		}
		one := row(pay.Block, pay.With)
		one.Pays++
		one.Pieces += pieces
	}
	if pieces, of := f.Uncounted(); pieces > 0 {
		row(f.Blocks[len(f.Blocks)-1].ID, of).Pieces += pieces
	}
	return list
}

// StandAll works out where a plan's dog is, and on the other tracks of the same ladder.
func (p *Reader) StandAll(ctx context.Context, q store.Q, plan string) error {
	plans, err := q.Siblings(ctx, plan)
	if err != nil {
		return err
	}
	for _, one := range plans {
		if err := p.Stand(ctx, q, one); err != nil {
			return err
		}
	}
	return nil
}

// Rebuilt says what a rebuild found.
type Rebuilt struct {
	Sessions int
	Changed  []string // sessions whose derived rows were not what the fold makes
}

// Rebuild derives everything anew from the events and says where that made a difference.
func (p *Reader) Rebuild(ctx context.Context) (Rebuilt, error) {
	if err := p.CatchUp(ctx); err != nil {
		return Rebuilt{}, err
	}
	ids, err := p.Store.Read().SessionIDs(ctx)
	if err != nil {
		return Rebuilt{}, err
	}
	r := Rebuilt{Sessions: len(ids)}
	for _, id := range ids {
		before, err := p.Store.Read().DerivedOf(ctx, id)
		if err != nil {
			return r, err
		}
		if err := p.ReadSessions(ctx, []string{id}); err != nil {
			return r, err
		}
		after, err := p.Store.Read().DerivedOf(ctx, id)
		if err != nil {
			return r, err
		}
		if !reflect.DeepEqual(before, after) {
			r.Changed = append(r.Changed, id)
		}
	}
	return r, p.CatchUp(ctx) // standings
}
