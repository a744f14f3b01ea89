package people

import (
	"fmt"
	"sync"
	"time"
)

// TooSoon says that somebody tried to sign in too often, and when they may again.
type TooSoon struct{ Wait time.Duration }

func (t *TooSoon) Error() string { return fmt.Sprintf("too many tries; again in %s", t.Wait) }

// attempts counts failed sign-ins by address and by name, in memory alone. It is safe for concurrent use.
type attempts struct {
	lock sync.Mutex
	of   map[string]attempt
}

type attempt struct {
	n    int
	last time.Time
}

// Bounds of trying.
const (
	freeTries  = 5 // before anybody waits
	longestTry = 15 * time.Minute
	triesKept  = 10_000
)

// wait is how long the one of them that failed most often still has to wait.
func (t *attempts) wait(now time.Time, keys ...string) (longest time.Duration) {
	t.lock.Lock()
	defer t.lock.Unlock()
	for _, key := range keys {
		one := t.of[key]
		if one.n < freeTries {
			continue
		}
		wait := min(time.Second<<min(one.n-freeTries, 20), longestTry) - now.Sub(one.last)
		longest = max(longest, wait)
	}
	return longest
}

// failed counts one more for each of them. One that did not fail for a day begins anew.
func (t *attempts) failed(now time.Time, keys ...string) {
	t.lock.Lock()
	defer t.lock.Unlock()
	if t.of == nil || len(t.of) > triesKept {
		t.of = map[string]attempt{}
	}
	for _, key := range keys {
		one := t.of[key]
		if now.Sub(one.last) > 24*time.Hour {
			one.n = 0
		}
		t.of[key] = attempt{one.n + 1, now}
	}
}

func (t *attempts) forget(keys ...string) {
	t.lock.Lock()
	defer t.lock.Unlock()
	for _, key := range keys {
		delete(t.of, key)
	}
}
