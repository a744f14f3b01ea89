package insight

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

// jobs are computations that take longer than a page: one at a time, each kept with its result until what it was
// worked out from has changed. They are safe for concurrent use.
type jobs struct {
	log  *slog.Logger
	all  context.Context // ends with the program
	end  context.CancelFunc
	work sync.WaitGroup
	lock sync.Mutex
	list map[string]*job
	turn chan struct{} // who holds it computes
}

type job struct {
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

func newJobs(log *slog.Logger) *jobs {
	all, end := context.WithCancel(context.Background())
	return &jobs{log: log, all: all, end: end, list: map[string]*job{}, turn: make(chan struct{}, 1)}
}

// close cancels what is under way, and waits until it has stopped.
func (j *jobs) close() {
	j.end()
	j.work.Wait()
}

// find is the job under a key, if it was worked out from the same.
func (j *jobs) find(key, from string) *job {
	j.lock.Lock()
	defer j.lock.Unlock()
	if one := j.list[key]; one != nil && one.from == from {
		return one
	}
	return nil
}

// start begins a job under a key, in place of one that was there; one from the same that still runs goes on. A panic of the
// work is its error. Where too many wait it answers ErrQueue.
func (j *jobs) start(key, from string, work func(ctx context.Context, progress func(float64)) (any, error)) (*job, error) {
	j.lock.Lock()
	defer j.lock.Unlock()
	old := j.list[key]
	if old != nil && old.from == from && !old.ready() {
		return old, nil
	}
	waiting := 0
	for k, one := range j.list {
		if !one.ready() && k != key {
			waiting++
		}
	}
	if waiting > maxWaiting { // one of them runs
		return nil, ErrQueue
	}
	if old != nil {
		old.cancel()
	}
	if len(j.list) >= maxJobs {
		for k, one := range j.list {
			if one.ready() {
				delete(j.list, k)
			}
		}
	}
	ctx, cancel := context.WithCancel(j.all)
	one := &job{from: from, cancel: cancel, done: make(chan struct{})}
	j.list[key] = one
	j.work.Go(func() {
		defer close(one.done)
		defer cancel()
		select {
		case j.turn <- struct{}{}:
			defer func() { <-j.turn }()
		case <-ctx.Done():
			one.err = ctx.Err()
			return
		}
		defer func() {
			if fault := recover(); fault != nil {
				one.result, one.err = nil, fmt.Errorf("the computation failed: %v", fault)
				j.log.Error("a computation failed", "job", key, "fault", fault, "stack", string(debug.Stack()))
			}
		}()
		if one.err = ctx.Err(); one.err == nil {
			one.result, one.err = work(ctx, func(part float64) { one.part.Store(math.Float64bits(part)) })
		}
	})
	return one, nil
}

// stop cancels the job under a key.
func (j *jobs) stop(key string) {
	j.lock.Lock()
	defer j.lock.Unlock()
	if one := j.list[key]; one != nil {
		one.cancel()
	}
}

// ready tells whether it has ended.
func (j *job) ready() bool {
	select {
	case <-j.done:
		return true
	default:
		return false
	}
}

// wait gives a job a moment, so that a page need not be asked twice for what is quick.
func (j *job) wait(most time.Duration) bool {
	select {
	case <-j.done:
		return true
	case <-time.After(most):
		return false
	}
}

// Part is how far it has come, 0…1.
func (j *job) Part() float64 { return math.Float64frombits(j.part.Load()) }
