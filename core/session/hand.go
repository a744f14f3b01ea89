package session

import (
	"patientfox/core/record"
	"patientfox/core/work"
)

// Hand works a Run without a browser: it gives drafts their identity and applies them, as the page
// does. The demo practice and the tests press the same keys as a thumb.
type Hand struct {
	Run     *Run
	Session string // UUID
	Dev     string
	By      string // person's id
	Handler string // person's id
	Wall    int64  // UTC Unix ms of the open
	NewID   func() string
	Events  []record.Event // all so far
	seq     int64
}

// Do makes drafts happen at a moment (ms of the session's clock).
func (h *Hand) Do(at int64, drafts []record.Draft) []record.Event {
	made := make([]record.Event, 0, len(drafts))
	for _, d := range drafts {
		h.seq++
		made = append(made, record.Event{
			V: record.Version, ID: h.NewID(), Session: h.Session, Dev: h.Dev, Seq: h.seq, T: at, Wall: h.Wall + at,
			By: h.By, Handler: h.Handler, Kind: d.Kind, Data: d.Data,
		})
	}
	h.Events = append(h.Events, made...)
	h.Run.Apply(made)
	return made
}

// Press presses a key at a moment.
func (h *Hand) Press(key work.Key, at int64) []record.Event { return h.Do(at, h.Run.Press(key, at)) }
