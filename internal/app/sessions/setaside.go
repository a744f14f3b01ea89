package sessions

import (
	"context"
	"encoding/json"
	"fmt"
	"time"

	"patientfox/core/record"
	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/derive"
	"patientfox/internal/store"
)

// Salvage reads a session that was set aside without the events with which it cannot be read. They stay in its log, and
// count for nothing; it returns how many.
func (p *Cases) Salvage(ctx context.Context, session string) (left int, err error) {
	q := p.Store.Read()
	row, err := q.Session(ctx, session)
	if err != nil {
		return 0, app.Found(err)
	}
	if row.Unread == "" {
		return 0, nil
	}
	s, err := p.Profile(ctx, q)
	if err != nil {
		return 0, err
	}
	events, err := q.AllEvents(ctx, session)
	if err != nil {
		return 0, err
	}
	b, err := derive.ReadBook(ctx, q, derive.PlansIn(events))
	if err != nil {
		return 0, err
	}
	_, out := record.Salvage(events, func(some []record.Event) bool {
		return derive.Guarded(func() error {
			_, f, err := p.Folds(b, some...)
			if err == nil {
				derive.Rows(f, s.Practice, session)
			}
			return err
		}) == nil
	})
	err = p.Store.Write(ctx, func(q store.Q) error { return q.LeaveOut(ctx, session, out) })
	p.Kick()
	return len(out), err
}

// SessionLog is a page of a session's events as they were stored.
type SessionLog struct {
	ID    string
	What  string // the session in words
	Rows  []EventRow
	Next  int64 // the position after which the next page begins, 0 on the last
	First bool
	All   int
	Left  int    // events that it is read without
	Aside string // why it cannot be read, "" where it can
	Away  bool
}

// EventRow is one event.
type EventRow struct {
	Time, Kind, Data  string
	Device, By, Local string
	Left              bool
}

// eventsShown is how many events are on a page of the log.
const eventsShown = 100

// SessionLog shows the events of a session after a position, in the order in which they came. It reads no rows, so that
// it can be looked at whatever became of them.
func (p *Cases) SessionLog(ctx context.Context, session string, after int64) (v SessionLog, err error) {
	q := p.Store.Read()
	row, err := q.Session(ctx, session)
	if err != nil {
		return v, app.Found(err)
	}
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	v = SessionLog{ID: session, Aside: app.AsideSays[row.Unread], Away: row.Deleted != nil, First: after == 0, What: "Session"}
	if v.All, v.Left, err = q.EventsOf(ctx, session); err != nil {
		return v, err
	}
	list, err := q.LogPage(ctx, session, after, eventsShown+1)
	if err != nil {
		return v, err
	}
	_, names, err := app.People(ctx, q)
	if err != nil {
		return v, err
	}
	if len(list) > eventsShown {
		list = list[:eventsShown]
		v.Next = list[eventsShown-1].Pos
	}
	if row.Opened > 0 {
		v.What = "Session of " + time.UnixMilli(row.Opened).In(s.Zone).Format("2 January 2006, 15:04")
	}
	for _, e := range list {
		data := string(e.Data)
		if !json.Valid(e.Data) {
			data = fmt.Sprintf("%q", data)
		}
		v.Rows = append(v.Rows, EventRow{
			Time: say.Clock(float64(e.T) / 1000), Kind: string(e.Kind), Data: data, Device: shortened(e.Dev), By: names[e.By],
			Local: time.UnixMilli(e.Wall).In(s.Zone).Format("2 Jan 15:04:05"), Left: e.Left,
		})
	}
	return v, nil
}

// shortened is enough of a device's name to tell it from others.
func shortened(device string) string {
	if len(device) != 36 {
		return device
	}
	return "device " + device[30:]
}
