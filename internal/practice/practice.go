// Package practice is a dog trainer's practice at work: its use cases of all areas together, as the program, the demo and the tests
// ask for them. The areas are the packages of internal/app; there is nothing else here.
package practice

import (
	"context"
	"log/slog"
	"time"

	"patientfox/internal/app"
	"patientfox/internal/app/care"
	"patientfox/internal/app/classes"
	"patientfox/internal/app/dogs"
	"patientfox/internal/app/experiments"
	"patientfox/internal/app/forecasts"
	"patientfox/internal/app/hands"
	"patientfox/internal/app/health"
	"patientfox/internal/app/homework"
	"patientfox/internal/app/insight"
	"patientfox/internal/app/journal"
	"patientfox/internal/app/ladders"
	"patientfox/internal/app/learning"
	"patientfox/internal/app/loads"
	"patientfox/internal/app/people"
	"patientfox/internal/app/plans"
	"patientfox/internal/app/rewards"
	"patientfox/internal/app/schedule"
	"patientfox/internal/app/sessions"
	"patientfox/internal/app/team"
	"patientfox/internal/store"
)

type (
	base            = app.Practice
	dogCases        = dogs.Cases
	planCases       = plans.Cases
	ladderCases     = ladders.Cases
	sessionCases    = sessions.Cases
	rewardCases     = rewards.Cases
	scheduleCases   = schedule.Cases
	insightCases    = insight.Cases
	peopleCases     = people.Cases
	loadCases       = loads.Cases
	learningCases   = learning.Cases
	forecastCases   = forecasts.Cases
	experimentCases = experiments.Cases
	handCases       = hands.Cases
	healthCases     = health.Cases
	homeworkCases   = homework.Cases
	careCases       = care.Cases
	classCases      = classes.Cases
	journalCases    = journal.Cases
	teamCases       = team.Cases
)

// Practice is one practice at work. It is safe for concurrent use.
type Practice struct {
	*base
	*dogCases
	*planCases
	*ladderCases
	*sessionCases
	*rewardCases
	*scheduleCases
	*insightCases
	*peopleCases
	*loadCases
	*learningCases
	*forecastCases
	*experimentCases
	*handCases
	*healthCases
	*homeworkCases
	*careCases
	*classCases
	*journalCases
	*teamCases
}

// Open makes a practice of a store; a new one gets its first row, with one person in it.
func Open(ctx context.Context, st *store.Store, log *slog.Logger, now func() time.Time, zone string) (*Practice, error) {
	p, err := app.Open(ctx, st, log, now, zone)
	if err != nil {
		return nil, err
	}
	return &Practice{
		p, dogs.New(p), plans.New(p), ladders.New(p), sessions.New(p), rewards.New(p), schedule.New(p), insight.New(p), people.New(p),
		loads.New(p), learning.New(p), forecasts.New(p), experiments.New(p), hands.New(p), health.New(p), homework.New(p),
		care.New(p), classes.New(p), journal.New(p), team.New(p),
	}, nil
}
