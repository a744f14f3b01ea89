// Package jobs runs computations that take longer than a page, in three lines so that long ones do not hold up short ones, nor those over
// the whole practice that of one plan, and keeps what they found.
package jobs

import (
	"context"
	"errors"
	"fmt"
	"log/slog"
	"math"
	"runtime/debug"
	"sync"
	"sync/atomic"
	"time"
)

// ErrQueue says that as many computations wait as may.
var ErrQueue = errors.New("too many computations wait already")

// Queue are computations: one short, one long and one over the whole practice at a time, each kept with its result until what it was
// worked out from has changed. It is safe for concurrent use.
type Queue struct {
	log  *slog.Logger
	all  context.Context // ends with the program
	end  context.CancelFunc
	work sync.WaitGroup
	lock sync.Mutex
	list map[string]*Job
	turn chan struct{} // who holds it computes
	long chan struct{} // likewise, of those that take long
	over chan struct{} // likewise, of those over the whole practice
}

// Job is one computation. It is safe for concurrent use.
type Job struct {
	from   string // what it was worked out from
	part   atomic.Uint64
	cancel context.CancelFunc
	done   chan struct{}
	result any
	err    error
}

// Bounds of what is kept, then those that are done are forgotten; and of what waits.
const (
	maxJobs    = 60
	maxWaiting = 10
)

// New makes a queue.
func New(log *slog.Logger) *Queue {
	all, end := context.WithCancel(context.Background())
	line := func() chan struct{} { return make(chan struct{}, 1) }
	return &Queue{log: log, all: all, end: end, list: map[string]*Job{}, turn: line(), long: line(), over: line()}
}

// Close cancels what is under way, and waits until it has stopped.
func (q *Queue) Close() {
	q.end()
	q.work.Wait()
}

// Find is the job under a key, if it was worked out from the same.
func (q *Queue) Find(key, from string) *Job {
	q.lock.Lock()
	defer q.lock.Unlock()
	if one := q.list[key]; one != nil && one.from == from {
		return one
	}
	return nil
}

// Latest is the job under a key, whatever it was worked out from; nil for none.
func (q *Queue) Latest(key string) *Job {
	q.lock.Lock()
	defer q.lock.Unlock()
	return q.list[key]
}

// Work is what a job does. It stops when its context is done, and tells how far it is, 0…1.
type Work = func(ctx context.Context, progress func(float64)) (any, error)

// Start begins a job of some milliseconds under a key, in place of one that was there; one from the same that still runs goes on. A panic
// of the work is its error. Where too many wait it answers ErrQueue.
func (q *Queue) Start(key, from string, work Work) (*Job, error) {
	return q.start(key, from, q.turn, work)
}

// StartLong is Start for a job that may take seconds: it waits for other long ones only.
func (q *Queue) StartLong(key, from string, work Work) (*Job, error) {
	return q.start(key, from, q.long, work)
}

// StartWhole is Start for a job over the whole practice, which may take a minute: it waits for other such ones only.
func (q *Queue) StartWhole(key, from string, work Work) (*Job, error) {
	return q.start(key, from, q.over, work)
}

func (q *Queue) start(key, from string, turn chan struct{}, work Work) (*Job, error) {
	q.lock.Lock()
	defer q.lock.Unlock()
	old := q.list[key]
	if old != nil && old.from == from && !old.Ready() {
		return old, nil
	}
	waiting := 0
	for k, one := range q.list {
		if !one.Ready() && k != key {
			waiting++
		}
	}
	if waiting > maxWaiting { // one of them runs
		return nil, ErrQueue
	}
	if old != nil {
		old.cancel()
	}
	if len(q.list) >= maxJobs {
		for k, one := range q.list {
			if one.Ready() {
				delete(q.list, k)
			}
		}
	}
	ctx, cancel := context.WithCancel(q.all)
	one := &Job{from: from, cancel: cancel, done: make(chan struct{})}
	q.list[key] = one
	q.work.Go(func() {
		defer close(one.done)
		defer cancel()
		select {
		case turn <- struct{}{}:
			defer func() { <-turn }()
		case <-ctx.Done():
			one.err = ctx.Err()
			return
		}
		defer func() {
			if fault := recover(); fault != nil {
				one.result, one.err = nil, fmt.Errorf("the computation failed: %v", fault)
				q.log.Error("a computation failed", "job", key, "fault", fault, "stack", string(debug.Stack()))
			}
		}()
		if one.err = ctx.Err(); one.err == nil {
			one.result, one.err = work(ctx, func(part float64) { one.part.Store(math.Float64bits(part)) })
		}
	})
	return one, nil
}

// Stop cancels the job under a key.
func (q *Queue) Stop(key string) {
	q.lock.Lock()
	defer q.lock.Unlock()
	if one := q.list[key]; one != nil {
		one.cancel()
	}
}

// Ready tells whether it has ended.
func (j *Job) Ready() bool {
	select {
	case <-j.done:
		return true
	default:
		return false
	}
}

// Wait gives a job a moment, so that a page need not be asked twice for what is quick.
func (j *Job) Wait(most time.Duration) bool {
	select {
	case <-j.done:
		return true
	case <-time.After(most):
		return false
	}
}

// Result is what came of a job that is ready.
func (j *Job) Result() (any, error) { return j.result, j.err }

// Part is how far it has come, 0…1.
func (j *Job) Part() float64 { return math.Float64frombits(j.part.Load()) }
