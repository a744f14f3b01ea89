package session

import (
	"cmp"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/record"
	"patientfox/core/trial"
	"patientfox/core/work"
)

// start is how a block begins: for whom, where the dog stands, and at which step it opens.
type start struct {
	pack    pack.Pack            // as it opens for the handler
	place   progression.Position // where the dog stands
	advised int                  // index of the step at which it opens, −1 where it goes on where this session left it
	mode    record.Mode
	why     progression.Why // of the move to that step
}

// Begin opens the session, or its next block, with the choices made. The error names a field and
// says what is wrong with it.
func (r *Run) Begin(c Choice) ([]record.Draft, *Problem) {
	if r.pack.Ruled != nil && !r.begun() && strings.TrimSpace(c.ClearedBy) == "" {
		return nil, &Problem{Field: "cleared_by", Code: NeedsClearance}
	}
	quota, problem := r.share(c)
	if problem != nil {
		return nil, problem
	}
	var drafts []record.Draft
	first := r.Block() == nil
	if !first {
		c.Handler = cmp.Or(c.Handler, r.Block().Handler)
	}
	b, problem := r.opensAt(&c)
	if problem != nil {
		return nil, problem
	}
	if first {
		open, problem := r.opening(&c)
		if problem != nil {
			return nil, problem
		}
		drafts = append(drafts, open)
		helps, problem := r.Share(trial.Roles{Holds: c.Holds, Feeds: c.Feeds})
		if problem != nil {
			return nil, problem
		}
		drafts = append(drafts, helps...)
	}
	drafts = append(append(drafts, record.NewDraft(record.KBlock, r.blockOf(c, b, quota))), b.setsLevel()...)
	if b.advised < 0 {
		return append(drafts, r.takes(r.s.Place, b.place.Today, Hold{Food: c.Food})...), nil
	}
	to, problem := b.step(c, r.sheet != nil)
	if problem != nil {
		return nil, problem
	}
	if to != b.place.Today || c.Finish || b.why == progression.WhyHand && b.place.Half != "" {
		drafts = append(drafts, record.NewDraft(record.KMove, record.MoveData{From: b.place.Today, To: to, Why: b.why}))
	}
	return append(drafts, r.takes(c.Place, to, Hold{Food: c.Food})...), nil
}

// opensAt is where the next block opens; the choice is turned to what holds for it.
func (r *Run) opensAt(c *Choice) (b start, _ *Problem) {
	p := r.OpensFor(c.Handler)
	b = start{pack: p, place: p.Position.Open(), why: progression.WhyStart}
	now, worked := r.Block(), r.lastOf(record.Line{Plan: p.Plan, Level: p.Level})
	if now != nil && (c.With || c.Interlude > 0) && now.Plan == p.Plan {
		return b, &Problem{Field: "with", Code: WorkedNow}
	}
	if now != nil {
		c.Place = r.s.Place
	}
	if worked != nil {
		c.Step = ""
		b.goesOn(worked, c.Mode)
	} else {
		b.opens(c)
	}
	if p.Held == p.Steps[0].ID && b.mode != record.Rehearsal {
		return b, &Problem{Field: "handler", Code: NotShown}
	}
	if c.Finish {
		b.advised, b.mode, b.why, c.Step = r.finishStep(b.place, p.Steps), record.Train, progression.WhyFinish, ""
	}
	return b, nil
}

// opens is how the first block of a plan at a level begins in a session.
func (b *start) opens(c *Choice) {
	b.mode = b.pack.Mode(c.Mode)
	if at := b.rehearsal(); b.mode == record.Train && at >= 0 && b.pack.Steps[at].ID == c.Step {
		b.mode = record.Rehearsal
	}
	switch b.mode {
	case record.Train:
		b.advised, _ = b.pack.StartAt(c.Place, c.Handler)
	case record.Rehearsal:
		b.advised, b.why = b.rehearsal(), progression.WhyRehearse
	default:
		b.advised, b.why = b.pack.OpensIn(b.mode), progression.WhyTry
	}
}

// goesOn is how a block begins whose plan was worked at this level in this session before: where that left it, but for a rehearsal.
func (b *start) goesOn(worked *record.Block, mode string) {
	b.place, b.advised, b.pack.Hands = worked.Position.Settle(worked.Steps, b.pack.Steps), -1, decision.HandsOwn
	first := b.pack.Held == b.pack.Steps[0].ID
	switch at := b.rehearsal(); {
	case at >= 0 && (first || record.Mode(mode) == record.Rehearsal):
		b.mode, b.advised, b.why = record.Rehearsal, at, progression.WhyRehearse
	case worked.Doing == record.Rehearsal:
		b.advised, b.why = progression.Index(b.pack.Steps, b.place.Reached), progression.WhyRehearse
	}
}

// rehearsal is the index of the safety step that the handler may only rehearse, −1 for none.
func (b *start) rehearsal() int { return b.pack.Rehearses(b.pack.Steps, b.place.Reached) }

// blockOf is the block that begins.
func (r *Run) blockOf(c Choice, b start, quota int) record.BlockData {
	from := b.place
	if b.pack.SetsLevel() {
		from = b.pack.From.Open()
	}
	return record.BlockData{
		Dog: r.pack.Dog, Skill: r.pack.Skill, Plan: r.pack.Plan, PlanVersion: r.pack.PlanVersion, Track: r.pack.Track, Level: b.pack.Level,
		Definition: r.pack.DefVersion, Reached: from.Reached, Given: from.Given, Since: from.Since, Half: from.Half, Splits: from.Splits,
		Mode: b.mode, Phases: r.pack.Phases, Made: r.pack.Made, With: r.group(c.With), Interlude: max(0, c.Interlude), Judge: work.JudgeNow,
		ClearedBy: r.clears(c), Quota: quota, Spoils: work.Spoiling(r.pack.Errors), Deck: r.dealt(c),
		Ready: c.Ready && r.Block() == nil, Experiment: r.assigned(c, b.mode),
	}
}

// setsLevel writes the level at which a handler begins, or to which it is capped; none where it is as their record has it.
func (b start) setsLevel() []record.Draft {
	if !b.pack.SetsLevel() {
		return nil
	}
	move := record.MoveData{From: b.pack.From.Reached, To: b.place.Reached, Why: progression.WhyHands}
	return []record.Draft{record.NewDraft(record.KMove, move)}
}

// step is the step at which a block opens: the one that is advised, or the one that was chosen. One that is gone from a planned
// session's plan begins where the plan says.
func (b *start) step(c Choice, planned bool) (to string, _ *Problem) {
	steps := b.pack.Steps
	to = steps[max(0, b.advised)].ID
	chosen, top := progression.Index(steps, c.Step), progression.Index(steps, b.pack.Cap)
	switch {
	case c.Step == "" || c.Step == to || b.mode != record.Train && b.mode != record.Baseline:
		return to, nil
	case chosen < 0 && planned:
		return to, nil
	case chosen < 0:
		return "", &Problem{Field: "step", Code: StepGone}
	case top >= 0 && chosen > top && b.pack.Held != "":
		return "", &Problem{Field: "step", Code: NotShown}
	case top >= 0 && chosen > top:
		return "", &Problem{Field: "step", Code: AboveMain}
	case b.pack.Unready(chosen) != "":
		return "", &Problem{Field: "step", Code: NoRecord}
	}
	if b.mode == record.Train {
		b.why = progression.WhyHand
	}
	return c.Step, nil
}

// opening is the beginning of a session with the choices made.
func (r *Run) opening(c *Choice) (open record.Draft, _ *Problem) {
	pieces, problem := whole("pieces", c.Pieces, maxPieces)
	if problem != nil {
		return open, problem
	}
	named, problem := r.names(c)
	if problem != nil {
		return open, problem
	}
	if _, ok := pack.Find(r.pack.Places, c.Place); !ok && c.Place != "" && named == "" {
		return open, &Problem{Field: "place", Code: NotInList}
	}
	tags, problem := ReadTags(c.Tags)
	if problem != nil {
		return open, problem
	}
	data := record.OpenData{Dog: r.pack.Dog, Place: c.Place, Named: named, Pieces: pieces, Core: CoreVersion, Tags: tags, Class: c.Class}
	if r.sheet != nil {
		data.Sheet = r.sheet.ID
	}
	return record.NewDraft(record.KOpen, data), nil
}

// names reads the name of a place that is not on the list, and turns the choice to it: to the one of that name, where it is on the list
// after all. The name is "" then, as where a place of the list was chosen.
func (r *Run) names(c *Choice) (name string, _ *Problem) {
	if c.Place != pack.NewPlace {
		return "", nil
	}
	switch name = strings.Join(strings.Fields(c.PlaceName), " "); {
	case name == "":
		return "", &Problem{Field: "place_name", Code: NotNamed}
	case len([]rune(name)) > criteria.MaxName:
		return "", &Problem{Field: "place_name", Code: TooLong, N: len([]rune(name)), Most: criteria.MaxName}
	}
	for _, one := range r.pack.Places {
		if strings.EqualFold(one.Name, name) {
			c.Place = one.ID
			return "", nil
		}
	}
	c.Place = c.PlaceID
	return name, nil
}

// clears is who cleared a plan that the dog's flags rule out, "" where they do not.
func (r *Run) clears(c Choice) string {
	if r.pack.Ruled == nil {
		return ""
	}
	return strings.TrimSpace(c.ClearedBy)
}

// group names the first of the blocks that the next one is worked in turn with.
func (r *Run) group(with bool) string {
	b := r.Block()
	switch {
	case !with || b == nil:
		return ""
	case b.With != "":
		return b.With
	}
	return b.ID
}

// lastOf is the last block of this session in which a plan was worked at a level, nil where there is none.
func (r *Run) lastOf(line record.Line) *record.Block {
	for i := len(r.s.Blocks) - 1; i >= 0; i-- {
		if r.s.Blocks[i].Line() == line {
			return r.s.Blocks[i]
		}
	}
	return nil
}
