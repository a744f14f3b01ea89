package exchange

import (
	"time"

	ics "github.com/arran4/golang-ical"
)

// Appointment is one entry of a calendar file.
type Appointment struct {
	ID, Summary, Text, Place, URL string
	AllDay                        bool // From and To are days, of no zone
	From, To                      time.Time
	Made                          time.Time
	Version                       int // counts its changes: a calendar that has an older one takes this
}

// Calendar writes appointments as an iCalendar file (RFC 5545). Times are written in UTC, so that no reader needs
// to know the rules of a zone; they are moments, whatever the clocks did in between.
func Calendar(name string, list []Appointment, now time.Time) string {
	cal := ics.NewCalendarFor("-//Patient Fox//Sessions//EN")
	cal.SetMethod(ics.MethodPublish)
	if name != "" {
		cal.SetXWRCalName(name)
	}
	for _, a := range list {
		e := cal.AddEvent(a.ID + "@patient-fox")
		e.SetDtStampTime(now)
		e.SetCreatedTime(a.Made)
		e.SetSequence(a.Version)
		if a.AllDay {
			e.SetAllDayStartAt(a.From)
			e.SetAllDayEndAt(a.To)
		} else {
			e.SetStartAt(a.From)
			e.SetEndAt(a.To)
		}
		e.SetSummary(a.Summary)
		if a.Text != "" {
			e.SetDescription(a.Text)
		}
		if a.Place != "" {
			e.SetLocation(a.Place)
		}
	}
	return cal.Serialize(ics.WithNewLineWindows) // as the format asks, on every system
}
