package exchange_test

import (
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-ical"
	"github.com/stretchr/testify/require"

	"patientfox/internal/exchange"
)

// Another reader than the writer's own finds the same moments, on both sides of a change of the clocks.
func TestACalendarReadByAnotherProgram(t *testing.T) {
	zone, err := time.LoadLocation("Europe/Lisbon")
	require.NoError(t, err)
	at := func(day int) time.Time { return time.Date(2026, 3, day, 9, 5, 0, 0, zone) }
	list := []exchange.Appointment{
		{
			ID: "a", Summary: "Tansy · wait at the ramp; chin rest, and more", Text: "1. Wait at the ramp: 2 sets of 5\n2. Chin rest",
			Place: "the net shed", From: at(28), To: at(28).Add(15 * time.Minute), Version: 3,
		},
		{ID: "b", Summary: strings.Repeat("Brine und Möwe ", 20), From: at(29), To: at(29).Add(8 * time.Minute)},
	}
	day := time.Date(2026, 3, 29, 0, 0, 0, 0, time.UTC)
	coat := exchange.Calendar("", []exchange.Appointment{{ID: "c", Summary: "Coat", AllDay: true, From: day, To: day.AddDate(0, 0, 1)}}, day)
	require.Contains(t, coat, "DTSTART;VALUE=DATE:20260329\r\n")
	require.Contains(t, coat, "DTEND;VALUE=DATE:20260330\r\n")
	text := exchange.Calendar("Kittiwake Quay", list, time.Date(2026, 3, 1, 0, 0, 0, 0, time.UTC))
	for _, line := range strings.Split(text, "\r\n") {
		require.LessOrEqual(t, len(line), 75, "folded lines")
	}
	cal, err := ical.NewDecoder(strings.NewReader(text)).Decode()
	require.NoError(t, err)
	events := cal.Events()
	require.Len(t, events, 2)
	for i, e := range events {
		from, err := e.DateTimeStart(time.UTC)
		require.NoError(t, err)
		to, err := e.DateTimeEnd(time.UTC)
		require.NoError(t, err)
		require.True(t, from.Equal(list[i].From), from)
		require.True(t, to.Equal(list[i].To), to)
		require.Equal(t, "9:05", from.In(zone).Format("3:04"), "the time of day is the practice's own")
		summary, err := e.Props.Text(ical.PropSummary)
		require.NoError(t, err)
		require.Equal(t, list[i].Summary, summary)
		require.NotEmpty(t, e.Props.Get(ical.PropDateTimeStamp))
		require.NotEmpty(t, e.Props.Get(ical.PropUID))
	}
	require.NotEqual(t, events[0].Props.Get(ical.PropDateTimeStart).Value[8:],
		events[1].Props.Get(ical.PropDateTimeStart).Value[8:], "an hour apart in UTC")
	text2, err := events[0].Props.Text(ical.PropDescription)
	require.NoError(t, err)
	require.Equal(t, list[0].Text, text2)
	require.Equal(t, "3", events[0].Props.Get(ical.PropSequence).Value)
}
