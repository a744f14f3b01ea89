package practice

import (
	"context"
	"sync"
)

// memory keeps what pages were last shown until anything in the database changes, or the day does.
// The database says itself when somebody has committed, this program or another.
type memory struct {
	lock    sync.Mutex
	version int64 // of the database
	quarter int64 // of an hour, Unix: in every zone a day begins with one
	views   map[string]any
}

// mostViews bounds the memory; when it is full it begins anew.
const mostViews = 200

// quarterHour is in ms.
const quarterHour = 900_000

// remember returns the view under a key, made anew only where something may have changed since.
// Views are read and never written to.
func remember[T any](ctx context.Context, p *Practice, key string, make func() (T, error)) (T, error) {
	version, err := p.store.Version(ctx)
	if err != nil {
		var none T
		return none, err
	}
	if kept, ok := p.known.find(version, p.ms()/quarterHour, key).(T); ok {
		return kept, nil
	}
	folded, err := p.settle(ctx)
	if err == nil && folded {
		version, err = p.store.Version(ctx) // that was a change of its own
	}
	if err != nil {
		var none T
		return none, err
	}
	view, err := make()
	if err == nil {
		p.known.keep(version, key, view)
	}
	return view, err
}

func (m *memory) find(version, quarter int64, key string) any {
	m.lock.Lock()
	defer m.lock.Unlock()
	if version != m.version || quarter != m.quarter || len(m.views) >= mostViews {
		m.version, m.quarter, m.views = version, quarter, map[string]any{}
	}
	return m.views[key]
}

func (m *memory) keep(version int64, key string, view any) {
	m.lock.Lock()
	defer m.lock.Unlock()
	if version != m.version {
		m.version, m.views = version, map[string]any{}
	}
	m.views[key] = view
}
