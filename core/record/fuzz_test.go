package record_test

import (
	"encoding/json"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/internal/randomlog"
)

// wild are values that were stored, or tried, and took a page down.
var wild = []string{
	`null`, `[]`, `5`, `"x"`, `{}`, `true`, `{"set":null}`, `{"text":null}`,
	`{"target":"00000000-0000-7000-8000-000000000003","set":{"text":5}}`,
	`{"offset":1000000000000}`, `{"offset":-9223372036854775808}`, `{"dev":"phone","shift":9223372036854775807}`,
	`{"reasons":{}}`, `{"reasons":[5]}`, `{"rule":5}`, `{"rule":{"kind":"set"}}`,
	`{"rule":{"kind":"gate","window":0}}`, `{"state":-1}`, `{"outcome":"met","latency_s":-1}`, `{"n":-5,"what":"pull"}`,
	`{"block":"nobody"}`, `{"made":[{"step":{}}]}`,
	`{"new":{"id":"00000000-0000-7000-8000-000000000777","rev":1,"criteria":{}},"above":"high","from":"low","to":"high"}`,
}

// kinds are all that an event can be, and one that nobody knows.
var kinds = strings.Fields("open block cue mark release help trial exposure trigger line pay state count pause resume tally " +
	"unlogged verdict move note amend retract join align end food warmup turn recover pen unheard")

// Every kind of event is refused where its data is no object; what gets past the door, and what an older door let past, is
// folded, amended or not.
func TestNoEventStopsTheFold(t *testing.T) {
	for _, kind := range kinds {
		for n, data := range wild {
			e := event(3, record.Draft{Kind: record.Kind(kind), Data: json.RawMessage(data)})
			if taken := record.Check(e) == nil; !strings.HasPrefix(data, "{") && kind != "unheard" {
				require.False(t, taken, "%s %s", kind, data)
			}
			for _, field := range []string{
				"text", "outcome", "state", "m", "pieces", "n", "reward", "answer", "how", "met", "reason", "place", "accepted",
			} {
				events := append(script(), e, event(4, amend(3, field, wild[(n+1)%len(wild)])), event(5, closing("met")), event(6, retract(4)))
				_, s, err := record.Read(book{}, events...)
				require.NoError(t, err, "%s %s %s", kind, data, field)
				require.LessOrEqual(t, s.EndAt, 14.0*86400, "%s %s", kind, data)
			}
		}
	}
}

// What released builds write is taken for ever.
func TestWhatWasEverLoggedIsTaken(t *testing.T) {
	for seed := range uint64(40) {
		_, events := randomlog.Make(seed, 120)
		for _, e := range events {
			require.NoError(t, record.Check(e), "%s %s", e.Kind, e.Data)
		}
	}
}

func TestFieldsKeepToTheirBounds(t *testing.T) {
	long := strings.Repeat("x", 500)
	for _, d := range []record.Draft{
		record.NewDraft(record.KJoin, record.JoinData{Offset: 1e12}),
		record.NewDraft(record.KAlign, record.AlignData{Dev: "phone", Shift: -1e12}),
		record.NewDraft(record.KTrial, record.TrialData{Broke: long}),
		record.NewDraft(record.KOpen, record.OpenData{Place: long}),
		record.NewDraft(record.KOpen, record.OpenData{Tags: []string{long}}),
		record.NewDraft(record.KBlock, record.BlockData{Reached: long}),
		record.NewDraft(record.KBlock, record.BlockData{Half: long}),
		record.NewDraft(record.KBlock, record.BlockData{Splits: -1}),
		record.NewDraft(record.KMove, record.MoveData{From: long}),
		record.NewDraft(record.KVerdict, record.VerdictData{Recommended: long}),
		record.NewDraft(record.KVerdict, record.VerdictData{Reasons: json.RawMessage(`{}`)}),
		record.NewDraft(record.KVerdict, record.VerdictData{Rule: json.RawMessage(`"x"`)}),
		record.NewDraft(record.KVerdict, record.VerdictData{Rule: json.RawMessage(`{"kind":"gate","window":-1}`)}),
		record.NewDraft(record.KEnd, record.EndData{Reason: long}),
		record.NewDraft(record.KPay, record.PayData{Taken: long}),
	} {
		require.Error(t, record.Check(event(3, d)), "%s %s", d.Kind, d.Data)
	}
	far := event(3, closing("met"))
	far.Wall = 1 << 60
	require.Error(t, record.Check(far))
}

// A log that cannot be read gives up as little as can be.
func TestSalvageLeavesOutWhatCannotBeRead(t *testing.T) {
	var events []record.Event
	for n := 1; n <= 200; n++ {
		events = append(events, event(n, closing("met")))
	}
	tried := 0
	bad := map[string]bool{id(7): true, id(190): true}
	kept, left := record.Salvage(events, func(some []record.Event) bool {
		tried++
		for _, e := range some {
			if bad[e.ID] {
				return false
			}
		}
		return true
	})
	require.Equal(t, []string{id(7), id(190)}, left)
	require.Len(t, kept, 198)
	require.Less(t, tried, 60)
	_, _, err := record.Read(nil, event(1, record.NewDraft(record.KOpen, record.OpenData{})),
		event(2, record.NewDraft(record.KBlock, record.BlockData{})))
	var unreadable *record.Unreadable
	require.ErrorAs(t, err, &unreadable, "without a book")
}

// FuzzCheckAndFold: whatever the door takes, and whatever an older one may have taken, is folded.
func FuzzCheckAndFold(f *testing.F) {
	for _, kind := range kinds {
		for _, data := range wild {
			f.Add(kind, data, int64(3000), "text", `null`)
		}
	}
	f.Fuzz(func(t *testing.T, kind, data string, at int64, field, value string) {
		e := event(3, record.Draft{Kind: record.Kind(kind), Data: json.RawMessage(data)})
		e.T = at
		checked := record.Check(e) == nil
		events := append(script(), e, event(4, closing("met")))
		if json.Valid([]byte(value)) && len(value) > 0 {
			events = append(events, event(5, amend(3, field, value)))
		}
		_, s, err := record.Read(book{}, events...)
		if err != nil {
			t.Fatalf("%s %s: %v", kind, data, err)
		}
		if checked && s.EndAt > 14*86400 {
			t.Fatalf("the session ends at %g s", s.EndAt)
		}
	})
}
