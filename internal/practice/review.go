package practice

import (
	"context"
	"time"

	"patientfox/core/reinforce"
	"patientfox/internal/store"
)

// Segment is a stretch of the time strip: a step, or a break.
type Segment struct {
	From, To float64 // s
	Label    string
	Break    bool
}

// StripTrial is one trial on the strip.
type StripTrial struct {
	At      float64 // s
	Outcome string
	Paid    bool
	Easy    bool
	Waits   bool // logged by another device and not accepted
}

// Gap is time without a pay that was overdue.
type Gap struct {
	From, To float64 // s of the session's clock
	Active   float64 // s
}

// RatePoint is the rolling rate at a moment.
type RatePoint struct{ At, Rate float64 }

// TrialLine is one row of the table behind the strip.
type TrialLine struct {
	Number                                   int
	Time, Step, Outcome, Measure, Paid, Note string
}

// VerdictLine is one verdict: what the rule said, and what was done.
type VerdictLine struct {
	Time, Step, Advice, Why, Deed string
	Overruled                     bool
	Now                           string // what today's reading says, where that differs
}

// ReviewView is the page of one session.
type ReviewView struct {
	ID, Plan, Dog, DogID, Skill string
	Day, Place, Time            string
	Open                        bool
	Away                        bool
	Headline, Sentence          string
	Length                      float64 // s
	Segments                    []Segment
	Trials                      []StripTrial
	Pays                        []float64
	Rate                        []RatePoint
	Band                        reinforce.Band
	Gaps                        []Gap
	Table                       []TrialLine
	Verdicts                    []VerdictLine
	Strict, Lenient, RateLine   string
	Logged, LoggedLine          string
	PayLine                     string
	NextTime, NextNote          string
	Notes                       []string
	Flags                       []string
}

// Review shows one session.
func (p *Practice) Review(ctx context.Context, id string) (ReviewView, error) {
	return remember(ctx, p, "session "+id, func() (ReviewView, error) { return p.makeReview(ctx, id) })
}

func (p *Practice) makeReview(ctx context.Context, id string) (v ReviewView, err error) {
	q := p.store.Read()
	row, err := q.Session(ctx, id)
	if err != nil {
		return v, found(err)
	}
	log, f, b, err := fold(ctx, q, id)
	if err != nil {
		return v, err
	}
	if len(f.Blocks) == 0 {
		return v, ErrNotFound
	}
	s, err := p.settings(ctx, q)
	if err != nil {
		return v, err
	}
	places, err := q.Places(ctx)
	if err != nil {
		return v, err
	}
	plan := b.plans[f.Blocks[0].Plan]
	at := time.UnixMilli(f.Wall).In(s.zone)
	v = ReviewView{
		ID: id, Plan: plan.ID, Dog: plan.DogName, DogID: plan.Dog, Skill: plan.SkillName, Day: at.Format("Monday 2 January"), Time: at.Format("15:04"),
		Open: f.Ended == nil, Away: row.Deleted != nil,
	}
	for _, one := range places {
		if one.ID == f.Place {
			v.Place = one.Name
		}
	}
	r := reviewer{ReviewView: &v, log: log, f: f, plan: plan}
	r.read()
	v.NextTime = r.next(ctx, q, s.day(p.ms()))
	return v, nil
}

// DeleteSession puts a session away, or brings it back. Its events stay.
func (p *Practice) DeleteSession(ctx context.Context, id string, away bool) error {
	return p.away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteSession(ctx, id, at) })
}
