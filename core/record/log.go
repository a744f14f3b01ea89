package record

import (
	"bytes"
	"cmp"
	"encoding/json"
	"maps"
	"slices"
)

// Receipt says what became of an event given to a log.
type Receipt string

// The receipts.
const (
	Stored    Receipt = "stored"
	Duplicate Receipt = "duplicate"
	Conflict  Receipt = "conflict" // the same id with other content: set aside
)

type entry struct {
	Event
	data any // decoded, nil for a kind this code does not read
	// The data under the amends named in by: decoding it anew on each reading would be slow.
	amended any
	by      string
}

// Log holds the events of one session. It is not safe for concurrent use.
type Log struct {
	byID    map[string]*entry
	order   []*entry // as they came, which is nearly the order of the fold and quick to sort
	retract []*entry
	named   map[string]bool // what retracts and amends name
	// What live found, nil where an event since then may change more than the end of it.
	reading []placed
	ordered int              // how often live has found all anew
	offset  map[string]int64 // by device, as it was found with
}

// NewLog returns a log with the given events; those that cannot be decoded are kept undecoded.
func NewLog(events ...Event) *Log {
	l := &Log{byID: make(map[string]*entry, len(events)), named: map[string]bool{}}
	for _, e := range events {
		l.Add(e)
	}
	return l
}

// Add takes an event once.
func (l *Log) Add(e Event) Receipt {
	if known, ok := l.byID[e.ID]; ok {
		if Same(known.Event, e) {
			return Duplicate
		}
		return Conflict
	}
	data, err := decode(e.Kind, e.Data)
	if err != nil {
		data = nil
	}
	kept := &entry{Event: e, data: data}
	l.byID[e.ID] = kept
	l.order = append(l.order, kept)
	switch d := data.(type) {
	case *RetractData:
		l.retract = append(l.retract, kept)
		l.named[d.Target] = true
		l.reading = nil
	case *AmendData:
		l.named[d.Target] = true
		l.reading = nil
	case *JoinData, *AlignData:
		l.reading = nil
	default:
		l.append(kept)
	}
	return Stored
}

// append puts an event at the end of what is read, where it belongs there: nearly always, and finding all anew on every press
// of a key would be slow.
func (l *Log) append(e *entry) {
	if l.reading == nil {
		return
	}
	p := placed{e, e.T + l.offset[e.Dev], e.data}
	if n := len(l.reading); l.named[e.ID] || n > 0 && compare(l.reading[n-1], p) >= 0 {
		l.reading = nil
		return
	}
	l.reading = append(l.reading, p)
}

// Events returns the events as they came.
func (l *Log) Events() []Event {
	events := make([]Event, len(l.order))
	for i, e := range l.order {
		events[i] = e.Event
	}
	return events
}

// Len is the number of events.
func (l *Log) Len() int { return len(l.byID) }

// Same tells whether two events have the same content.
func Same(a, b Event) bool {
	x, y := a, b
	x.Data, y.Data = nil, nil
	if x.V != y.V || x.ID != y.ID || x.Session != y.Session || x.Dev != y.Dev || x.Seq != y.Seq ||
		x.T != y.T || x.Wall != y.Wall || x.By != y.By || x.Handler != y.Handler || x.Kind != y.Kind {
		return false
	}
	return bytes.Equal(compact(a.Data), compact(b.Data))
}

func compact(raw json.RawMessage) []byte {
	if len(raw) == 0 {
		return nil
	}
	var out bytes.Buffer
	if json.Compact(&out, raw) != nil {
		return raw // no JSON: unchanged
	}
	return out.Bytes()
}

// placed is an event at its moment of the session's clock, with amends in it.
type placed struct {
	*entry
	at   int64
	data any
}

// live returns the events that are not taken back, in the order of the fold, with their amends.
func (l *Log) live() []placed {
	if l.reading != nil {
		return l.reading
	}
	dead := l.dead()
	l.offset = l.offsets(dead)
	amends := l.amends(dead)
	out := make([]placed, 0, len(l.order))
	for _, e := range l.order {
		if dead[e.ID] {
			continue
		}
		p := placed{e, e.T + l.offset[e.Dev], e.data}
		if fields := amends[e.ID]; len(fields) > 0 && e.data != nil {
			p.data = e.under(fields)
		}
		out = append(out, p)
	}
	slices.SortFunc(out, compare)
	l.reading = out
	l.ordered++
	return out
}

// compare is the order of the fold: moment, device, number; the id only where two devices share a name.
func compare(a, b placed) int {
	return cmp.Or(cmp.Compare(a.at, b.at), cmp.Compare(a.Dev, b.Dev), cmp.Compare(a.Seq, b.Seq), cmp.Compare(a.ID, b.ID))
}

// dead tells which events are taken back: an event is live unless a live retract names it.
// Retracts that name each other in a ring cannot be settled and take nothing back.
func (l *Log) dead() map[string]bool {
	if len(l.retract) == 0 {
		return nil
	}
	namedBy := map[string][]*entry{}
	for _, e := range l.retract {
		target := e.data.(*RetractData).Target
		namedBy[target] = append(namedBy[target], e)
	}
	ring := l.rings()
	known, dead := map[string]bool{}, map[string]bool{}
	var isDead func(id string) bool
	isDead = func(id string) bool {
		if known[id] {
			return dead[id]
		}
		known[id] = true
		for _, r := range namedBy[id] {
			if !ring[r.ID] && !isDead(r.ID) {
				dead[id] = true
			}
		}
		return dead[id]
	}
	for target := range namedBy {
		if e := l.byID[target]; e != nil && e.Kind != KOpen {
			isDead(target)
		}
	}
	return dead
}

// rings finds the retracts that lie on a ring of retracts. Each names one target, so following the
// targets either leaves the retracts or comes round.
func (l *Log) rings() map[string]bool {
	next := map[string]string{}
	for _, e := range l.retract {
		next[e.ID] = e.data.(*RetractData).Target
	}
	ring, seen := map[string]bool{}, map[string]bool{}
	for _, e := range l.retract {
		path := map[string]bool{}
		at, going := e.ID, true
		for going && !seen[at] {
			seen[at], path[at] = true, true
			at, going = next[at]
			_, isRetract := next[at]
			going = going && isRetract
		}
		for going && path[at] && !ring[at] {
			ring[at] = true
			at = next[at]
		}
	}
	return ring
}

// offsets says by how much each device's clock is off the session's. The last join by (wall, id)
// counts; aligns add up.
func (l *Log) offsets(dead map[string]bool) map[string]int64 {
	offset, joined := map[string]int64{}, map[string]*entry{}
	for _, e := range l.order {
		if dead[e.ID] {
			continue
		}
		switch d := e.data.(type) {
		case *JoinData:
			if known := joined[e.Dev]; known == nil || later(e, known) {
				if known != nil {
					offset[e.Dev] -= within(known.data.(*JoinData).Offset)
				}
				joined[e.Dev] = e
				offset[e.Dev] += within(d.Offset)
			}
		case *AlignData:
			offset[d.Dev] += within(d.Shift)
		}
	}
	for dev, by := range offset {
		offset[dev] = within(by) // however often it was shifted
	}
	return offset
}

// within holds a shift of a clock (ms) within the longest session: logs hold wild ones from before they were refused.
func within(shift int64) int64 { return min(max(shift, -maxDay), maxDay) }

func later(a, b *entry) bool {
	return cmp.Or(cmp.Compare(a.Wall, b.Wall), cmp.Compare(a.ID, b.ID)) > 0
}

// amends gathers, per event and field, the last amend by (wall, id).
func (l *Log) amends(dead map[string]bool) map[string]map[string]*entry {
	last := map[string]map[string]*entry{}
	for _, e := range l.order {
		a, ok := e.data.(*AmendData)
		if !ok || dead[e.ID] {
			continue
		}
		target, here := l.byID[a.Target]
		if !here {
			continue // it waits
		}
		for field := range a.Set {
			if !mayAmend(target.Kind, field) {
				continue
			}
			if last[a.Target] == nil {
				last[a.Target] = map[string]*entry{}
			}
			if known := last[a.Target][field]; known == nil || later(e, known) {
				last[a.Target][field] = e
			}
		}
	}
	return last
}

// under decodes an event's data with amended fields set over it; a value that does not fit leaves the
// event as it was.
func (e *entry) under(fields map[string]*entry) any {
	names := slices.Sorted(maps.Keys(fields))
	by := ""
	for _, field := range names {
		by += field + fields[field].ID
	}
	if e.by == by {
		return e.amended
	}
	e.by, e.amended = by, e.data
	whole := map[string]json.RawMessage{}
	if len(e.Data) > 0 && json.Unmarshal(e.Data, &whole) != nil {
		return e.data
	}
	if whole == nil { // older data that is null
		whole = map[string]json.RawMessage{}
	}
	for _, field := range names {
		whole[field] = fields[field].data.(*AmendData).Set[field]
	}
	raw, err := json.Marshal(whole)
	if err != nil {
		return e.data
	}
	if data, err := decode(e.Kind, raw); err == nil && checkData(e.Event, data) == nil {
		e.amended = data
	}
	return e.amended
}

// pressed tells the kinds that a press of a key makes and that an undo may take back.
func pressed(k Kind) bool {
	switch k {
	case KCue, KMark, KRelease, KHelp, KTrial, KExposure, KPay, KState, KPause, KResume, KVerdict, KMove,
		KNote, KCount, KWarmup, KTrigger, KLine, KTally, KTurn, KRecover, KPen, KArousal, KDecoy, KPhase, KAmend:
		return true
	}
	return false
}

// LastPressAt is the moment of a device's latest press that is live, of any for "", in ms; ok is false before the
// first.
func (l *Log) LastPressAt(dev string) (at int64, ok bool) {
	live := l.live()
	for i := len(live) - 1; i >= 0; i-- {
		if pressed(live[i].Kind) && live[i].Kind != KAmend && (dev == "" || live[i].Dev == dev) { // what is said of a trial moves no key
			return live[i].at, true
		}
	}
	return 0, false
}

// Has tells whether the log holds an event, taken back or not.
func (l *Log) Has(id string) bool { return l.byID[id] != nil }

// LastPressOf returns the live events of a device's latest press, last first; of any device for "". What
// one press means shares its moment. The opening of a block is not taken back, nor where it began.
func (l *Log) LastPressOf(dev string) []string {
	live := l.live()
	var ids []string
	var last, opened placed
	for _, e := range live {
		if e.Kind == KBlock {
			opened = e
		}
	}
	for i := len(live) - 1; i >= 0; i-- {
		e := live[i]
		if e.Kind == KBlock || e.Kind == KEnd || opened.entry != nil && e.Kind == KMove && e.at == opened.at && e.Dev == opened.Dev {
			break
		}
		if !pressed(e.Kind) || dev != "" && e.Dev != dev {
			continue
		}
		if len(ids) > 0 && (e.at != last.at || e.Dev != last.Dev) {
			break
		}
		ids, last = append(ids, e.ID), e
	}
	return ids
}

// corrected tells whether what a trial was read from is another than what was logged; where an error came from, or
// what was done after it, is said later and corrects nothing.
func corrected(logged any, now *TrialData) bool {
	was, ok := logged.(*TrialData)
	if !ok || was == now {
		return false
	}
	return was.Outcome != now.Outcome || was.Easy != now.Easy || was.Cues != now.Cues || was.Paces != now.Paces ||
		was.Pulls != now.Pulls || was.CheckIns != now.CheckIns || other(was.LatencyS, now.LatencyS) ||
		other(was.HeldS, now.HeldS)
}

// correctedExposure tells the same of an exposure.
func correctedExposure(logged any, now *ExposureData) bool {
	was, ok := logged.(*ExposureData)
	if !ok || was == now {
		return false
	}
	return was.State != now.State || was.Easy != now.Easy || was.Touch != now.Touch || other(was.HeldS, now.HeldS) ||
		other(was.RecoveryS, now.RecoveryS) || now.Touched != nil
}

func other(a, b *float64) bool { return (a == nil) != (b == nil) || a != nil && *a != *b }
