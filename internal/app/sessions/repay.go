package sessions

import (
	"context"
	"encoding/json"
	"fmt"
	"math"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/lookback"
	"patientfox/core/record"
	"patientfox/core/reinforce"
	"patientfox/core/trial"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// maxPaid is how many treats one pay can have, as a person types it.
const maxPaid = 100

// repay takes the pays of a trial back and puts in one of the treats typed; where they are as many as before, it says anew where they
// went and how they were taken. None of it changes anything where it is said as it was.
func (c corrector) repay(ps form.Problems, typed form.Typed, id string, before int, at int64) (drafts []logged) {
	where, taken := c.delivered(id)
	said := map[string]json.RawMessage{}
	for name, now := range map[string]*string{"where": &where, "taken": &taken} {
		list := map[string][]reinforce.Named{"where": reinforce.Places, "taken": ways}[name]
		field := "pay_" + name
		value, given := typed[field]
		switch {
		case !given || value == *now:
		case value != "" && reinforce.LabelOf(list, value) == "":
			ps.Add(field, "Choose one of the list.")
		default:
			*now, said[name] = value, json.RawMessage(store.JSON(value))
		}
	}
	drafts = c.relast(ps, typed, id)
	text, given := typed["pieces"]
	n := ps.Whole(typed, "pieces", 0, maxPaid, fmt.Sprintf("Treats from 0 to %d.", maxPaid))
	if !given || strings.TrimSpace(text) == "" || n == before {
		for _, pay := range c.f.Pays {
			if pay.Trial == id && len(said) > 0 {
				drafts = append(drafts, logged{Draft: record.NewDraft(record.KAmend, record.AmendData{Target: pay.ID, Set: said})})
			}
		}
		return drafts
	}
	for _, pay := range c.f.Pays {
		if pay.Trial == id && !pay.Lasts() {
			drafts = append(drafts, logged{Draft: record.NewDraft(record.KRetract, record.RetractData{Target: pay.ID})})
		}
	}
	if n > 0 {
		drafts = append(drafts, logged{record.NewDraft(record.KPay, record.PayData{Pieces: n, For: id, Where: where, Taken: taken}), at, ""})
	}
	return drafts
}

// relast says anew how long the pay of a trial took that took its time.
func (c corrector) relast(ps form.Problems, typed form.Typed, id string) []logged {
	last := c.lasting(id)
	text, given := typed["pay_s"]
	if last == nil || !given || strings.TrimSpace(text) == typedSeconds(last.Seconds) {
		return nil
	}
	var seconds any // nobody took the time
	if strings.TrimSpace(text) != "" {
		seconds = ps.Number(typed, "pay_s", 0, 7200, "Seconds, in figures.")
	}
	set := map[string]json.RawMessage{"s": json.RawMessage(store.JSON(seconds))}
	return []logged{{Draft: record.NewDraft(record.KAmend, record.AmendData{Target: last.ID, Set: set})}}
}

// PutPay puts in a pay that was forgotten, at a moment of the session ("m:ss" or seconds). It belongs to the trial before it.
func (p *Cases) PutPay(ctx context.Context, session string, typed form.Typed) error {
	c, err := p.folded(ctx, session)
	if err != nil {
		return err
	}
	ps := form.Problems{}
	at, ok := moment(typed.Text("at"))
	before := c.before(at)
	switch {
	case !ok || at > c.f.EndAt+maxAfter:
		ps.Add("at", "A moment of the session, as m:ss.")
	case before == nil:
		ps.Add("at", "No trial was logged before that: put the trial in first.")
	}
	n := ps.Whole(typed, "pieces", 1, maxPaid, fmt.Sprintf("Treats from 1 to %d.", maxPaid))
	if err := ps.Err(); err != nil {
		return err
	}
	pay := record.NewDraft(record.KPay, record.PayData{Pieces: n, For: before.ID})
	return p.logs(ctx, session, []logged{{pay, int64(math.Round(at * 1000)), ""}})
}

// maxAfter is how long after its end something can be put into a session, s.
const maxAfter = 3600

// before is the trial that was under way or closed last at a moment, nil where there was none.
func (c corrector) before(at float64) (last *trial.Trial) {
	for i := range c.f.Trials {
		if t := &c.f.Trials[i]; !t.Tally && t.From <= at && (last == nil || t.From >= last.From) {
			last = t
		}
	}
	return last
}

// apart tells whether an event is a pay that belongs to no trial.
func apart(e record.Event) bool {
	var d record.PayData
	return e.Kind == record.KPay && json.Unmarshal(e.Data, &d) == nil && d.Apart
}

// noteFields are the fields of what is noted beside the trials and can be corrected, by kind.
var noteFields = map[record.Kind]string{record.KState: "state", record.KArousal: "level", record.KDecoy: "reaction"}

// Renote corrects something that was noted beside the trials: a state, how excited the dog was, its reaction to a decoy.
func (p *Cases) Renote(ctx context.Context, session, event, value string) error {
	events, err := p.Store.Read().Events(ctx, session)
	if err != nil {
		return err
	}
	at := slices.IndexFunc(events, func(e record.Event) bool { return e.ID == event })
	if at < 0 || !slices.ContainsFunc(lookback.NoteChoices(events[at].Kind), func(one lookback.Choice) bool { return one.ID == value }) {
		return app.ErrNotFound
	}
	var said any = value
	if n, err := strconv.Atoi(value); err == nil {
		said = n
	}
	set := map[string]json.RawMessage{noteFields[events[at].Kind]: json.RawMessage(store.JSON(said))}
	return p.logs(ctx, session, []logged{{Draft: record.NewDraft(record.KAmend, record.AmendData{Target: event, Set: set})}})
}

// TakeBack takes back something that was noted beside the trials: a note, a state, a growl.
func (p *Cases) TakeBack(ctx context.Context, session, event string) error {
	events, err := p.Store.Read().Events(ctx, session)
	if err != nil {
		return err
	}
	noted := func(e record.Event) bool {
		if e.ID != event {
			return false
		}
		var d record.CountData
		return e.Kind == record.KNote || e.Kind == record.KState || e.Kind == record.KArousal || e.Kind == record.KDecoy || apart(e) ||
			e.Kind == record.KCount && json.Unmarshal(e.Data, &d) == nil && (d.What == trial.Growl || d.What == trial.Withheld)
	}
	if !slices.ContainsFunc(events, noted) {
		return app.ErrNotFound
	}
	return p.logs(ctx, session, []logged{{Draft: record.NewDraft(record.KRetract, record.RetractData{Target: event})}})
}
