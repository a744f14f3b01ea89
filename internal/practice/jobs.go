package practice

import (
	"context"
	"math"
	"sync"
	"sync/atomic"
	"time"
)

// jobs are computations that take longer than a page: one at a time, each kept with its result until what it was
// worked out from has changed.
type jobs struct {
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

// mostJobs bounds what is kept; then those that are done are forgotten.
const mostJobs = 60

func newJobs() *jobs { return &jobs{list: map[string]*job{}, turn: make(chan struct{}, 1)} }

// find is the job under a key, if it was worked out from the same.
func (j *jobs) find(key, from string) *job {
	j.lock.Lock()
	defer j.lock.Unlock()
	if one := j.list[key]; one != nil && one.from == from {
		return one
	}
	return nil
}

// start begins a job under a key, in place of one that was there.
func (j *jobs) start(key, from string, work func(ctx context.Context, progress func(float64)) (any, error)) *job {
	ctx, cancel := context.WithCancel(context.Background())
	one := &job{from: from, cancel: cancel, done: make(chan struct{})}
	j.lock.Lock()
	if old := j.list[key]; old != nil {
		old.cancel()
	}
	if len(j.list) >= mostJobs {
		for k, old := range j.list {
			if old.ready() {
				delete(j.list, k)
			}
		}
	}
	j.list[key] = one
	j.lock.Unlock()
	go func() {
		defer close(one.done)
		defer cancel()
		select {
		case j.turn <- struct{}{}:
			defer func() { <-j.turn }()
			one.result, one.err = work(ctx, func(part float64) { one.part.Store(math.Float64bits(part)) })
		case <-ctx.Done():
			one.err = ctx.Err()
		}
	}()
	return one
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
