package app

import (
	"context"
	"sync"

	"patientfox/internal/derive"
)

// memory keeps what pages were last shown until anything in the database changes that they may depend on, or the day does.
// The database says itself when somebody has committed, this program or another; of what is read in the background the
// reader says which dogs it touches. It is safe for concurrent use.
type memory struct {
	lock    sync.Mutex
	version int64 // of the database
	quarter int64 // of an hour, Unix: in every zone a day begins with one
	views   map[string]remembered
	drops   int64            // how often something was dropped
	dropped map[string]int64 // by dog: at which of them last
}

type remembered struct {
	view  any
	about string
}

// What a view depends on beside one dog's sessions, which are named by the dog's id.
const (
	AllDogs = derive.AllDogs // those of all dogs
	NoDog   = ""             // none
)

// maxViews bounds the memory; when it is full it begins anew.
const maxViews = 200

// quarterHour is in ms.
const quarterHour = 900_000

// Remember returns the view under a key, made anew only where something may have changed since; about names the dog whose
// sessions it depends on. Views are read and never written to.
func Remember[T any](ctx context.Context, p *Practice, key string, about func(T) string, make func() (T, error)) (T, error) {
	version, err := p.Store.Version(ctx)
	if err != nil {
		var none T
		return none, err
	}
	kept, drops := p.known.find(version, p.Ms()/quarterHour, key)
	if view, ok := kept.(T); ok {
		return view, nil
	}
	view, err := make()
	if err == nil {
		p.known.keep(version, drops, key, remembered{view, about(view)})
	}
	return view, err
}

// On is about for a view of one dog, of allDogs or of noDog.
func On[T any](dog string) func(T) string { return func(T) string { return dog } }

func (m *memory) find(version, quarter int64, key string) (view any, drops int64) {
	m.lock.Lock()
	defer m.lock.Unlock()
	if version != m.version || quarter != m.quarter || len(m.views) >= maxViews {
		m.version, m.quarter, m.views = version, quarter, map[string]remembered{}
	}
	return m.views[key].view, m.drops
}

// keep takes a view that was made since find said drops, unless what it depends on was dropped meanwhile.
func (m *memory) keep(version, drops int64, key string, r remembered) {
	m.lock.Lock()
	defer m.lock.Unlock()
	if version != m.version || m.dropped[r.about] > drops {
		return
	}
	m.views[key] = r
}

// drop forgets the views of dogs whose sessions were read anew.
func (m *memory) drop(dogs map[string]bool) {
	m.lock.Lock()
	defer m.lock.Unlock()
	m.drops++
	if len(m.dropped) > 10*maxViews || m.dropped == nil {
		m.dropped = map[string]int64{}
	}
	for dog, touched := range dogs {
		if touched {
			m.dropped[dog] = m.drops
		}
	}
	for key, one := range m.views {
		if dogs[one.about] {
			delete(m.views, key)
		}
	}
}

// reads is how often sessions of a dog were read anew, counted over all dogs: as long as it stays, so does the dog's record.
func (m *memory) reads(dog string) int64 {
	m.lock.Lock()
	defer m.lock.Unlock()
	return m.dropped[dog]
}
