package demo

import (
	"context"
	"fmt"
	"strings"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app/form"
)

// script is a session that goes exactly as written, for what chance would not show.
type script struct {
	ago     int    // days before now
	mode    string // train, place, baseline, probe; "" for what the plan needs
	marks   string // m met, l late, h helped, x missed, o offered; 0 to 4 states; S stays where a verdict waits that is not to be taken
	source  string // of its errors
	after   string // what was done after them
	tags    string
	handler string
}

// scripted are plans whose sessions are written down.
var scripted = []struct {
	plan     plan
	sessions []script
}{
	{
		plan{
			dog: "Brine", places: []string{"the net shed"}, hands: "Jorun Vale",
			typed: form.Typed{
				"skill": "Nose to the yellow bollard", "kind": "cued", "position": "nose on the bollard's ring", "cue": "“bollard”",
				"break":     "a paw, or no touch within five seconds",
				"latency_s": "3", "leg1_make": "fade", "leg1_what": "help", "leg1_items": "lure, empty hand, small sign, none",
			},
		},
		[]script{
			{ago: 19, marks: "mmmmmmmmmm"},
			{ago: 16, marks: "ommmmmolmmhmS", tags: "wind", source: "handler", after: "waited"},
			{ago: 12, marks: "hmmhmhmmhmS", source: "handler", after: "waited", tags: "wind, busy", handler: "Maren Oduya"},
			{ago: 10, marks: "hmmhmhmmhmS", source: "handler", after: "waited", tags: "wind"},
			{ago: 8, marks: "hmmhmS", source: "handler", after: "reset"},
			{ago: 7, marks: "mhmhmS", source: "handler", after: "waited"},
			{ago: 5, marks: "hmmmhS", source: "handler", after: "waited", tags: "busy"},
			{ago: 4, marks: "mhhmmS", source: "handler", after: "reset"},
		},
	},
	{
		plan{
			dog: "Pilchard", places: []string{"the north quay"}, hands: "Maren Oduya",
			typed: form.Typed{
				"skill": "Down on the slipway", "kind": "held", "position": "lies down", "leg1_make": "figures", "leg1_what": "duration",
				"leg1_items": "2, 4, 7, 11",
			},
		},
		[]script{
			{ago: 30, marks: "mmmmmmmmmm"},
			{ago: 26, marks: "mxmxm", source: "set-up", after: "reset", tags: "wet"},
			{ago: 22, marks: "xxxmxmxSmxmxxSmmmmm", source: "set-up", after: "waited", tags: "wet, cold"},
			{ago: 15, marks: "mxmxmmxmxm", source: "dog", after: "reset", tags: "wet"},
			{ago: 10, marks: "mxmxmS", source: "dog", after: "waited"},
			{ago: 7, marks: "mxmmxS", source: "dog", after: "waited", tags: "wet"},
		},
	},
	{
		plan{
			dog: "Tansy", places: []string{"the ferry ramp"}, hands: "Jorun Vale",
			typed: form.Typed{
				"skill": "Turn at the gangway", "kind": "cued", "position": "turns on the spot and faces Jorun", "cue": "“about”", "break": "walks on",
				"latency_s": "2", "leg1_make": "figures", "leg1_what": "handler", "leg1_items": "0, 1, 2, 3, 4, 5, 6, 8, 10, 12",
			},
		},
		[]script{
			{ago: 9, mode: "baseline", marks: "mxmxx"},
			{ago: 9, mode: "place", marks: "mmx"},
			{ago: 6, marks: "mmmmmmlmmm"},
		},
	},
	{
		plan{
			dog: "Quill", places: []string{"the net shed"}, hands: "Jorun Vale",
			typed: form.Typed{
				"skill": "Chin on the fish crate", "kind": "cued", "position": "chin flat on the crate's edge", "cue": "“crate”",
				"break": "the chin lifts, or a paw comes up", "latency_s": "3", "leg1_make": "figures", "leg1_what": "handler",
				"leg1_items": "0, 1, 2, 3",
			},
		},
		[]script{
			{ago: 18, marks: "mmmmm"},
			{ago: 14, marks: "xmmmm", source: "dog", after: "waited"},
			{ago: 11, marks: "xmmmm", source: "dog", after: "waited"},
			{ago: 7, marks: "xmmmmS", source: "dog", after: "waited"},
			{ago: 6, marks: "xmmmmS", source: "dog", after: "waited"},
			{ago: 4, marks: "xmmmmS", source: "dog", after: "waited"},
		},
	},
	{
		plan{
			dog: "Brine", places: []string{"the harbour office"}, hands: "Maren Oduya",
			typed: form.Typed{
				"skill": "Sit while the gate opens", "kind": "held", "position": "sits, both hips down, until the release word",
				"postures": "sit", "cue": "the hand on the latch",
				"cue_by": "something that happens", "break": "a hip up, or a paw through", "release": "“through”",
				"leg1_make": "figures", "leg1_what": "duration", "leg1_items": "1, 2, 3, 5",
			},
		},
		[]script{
			{ago: 21, marks: "mmmmmmmmmm"},
			{ago: 18, marks: "mmmmmmmmmm"},
			{ago: 17, marks: "m"},
			{ago: 15, marks: "xmm"},
			{ago: 13, marks: "m"},
			{ago: 9, marks: "xx", source: "dog", after: "waited", tags: "busy"},
			{ago: 5, marks: "mmxmm"},
		},
	},
	{
		plan{
			dog: "Quill", from: "a-sound-that-worries", places: []string{"the harbour office"}, hands: "Maren Oduya",
			typed: form.Typed{"skill": "The anchor chain", "leg1_trigger_is": "the chain running out", "leg1_from": "120", "leg1_to": "40"},
		},
		[]script{
			{ago: 13, marks: "01001"},
			{ago: 11, marks: "1124", tags: "busy"},
		},
	},
}

// scripts lays the scripted plans out and runs their sessions.
func (m *maker) scripts(ctx context.Context) error {
	for _, one := range scripted {
		m.clock = m.now.AddDate(0, 0, -35)
		if err := m.plan(ctx, &one.plan); err != nil {
			return fmt.Errorf("%s: %w", one.plan.typed["skill"], err)
		}
		id := m.ids[one.plan.typed["skill"]]
		for i, s := range one.sessions {
			m.clock = m.now.AddDate(0, 0, -s.ago).Add(-time.Hour + time.Duration(i)*9*time.Minute)
			if err := m.scripted(ctx, &one.plan, id, s); err != nil {
				return fmt.Errorf("%s, %d days ago: %w", one.plan.typed["skill"], s.ago, err)
			}
		}
	}
	return nil
}

func (m *maker) scripted(ctx context.Context, pl *plan, plan string, s script) error {
	pack, err := m.p.Pack(ctx, plan)
	if err != nil {
		return err
	}
	run, err := session.Open(pack)
	if err != nil {
		return err
	}
	hands := s.handler
	if hands == "" {
		hands = pl.hands
	}
	h := &session.Hand{
		Run: run, Session: m.uuid(), Dev: "demo-phone", By: m.ids["Maren Oduya"], Handler: m.ids[hands], Wall: m.clock.UnixMilli(), NewID: m.uuid,
	}
	drafts, problem := run.Begin(session.Choice{
		Place: m.ids[pl.places[0]], Handler: h.Handler, Step: run.OpensFor(h.Handler).Position.Reached, Mode: s.mode,
	})
	if problem != nil {
		return fmt.Errorf("%s: %s", problem.Field, problem.Code)
	}
	h.Do(0, drafts)
	at := int64(5000)
	for _, mark := range s.marks {
		if v := screen.Of(run).View(at); v.Phase == session.Deciding {
			key := work.Main
			if mark == 'S' {
				key = work.StayKey
			}
			h.Press(key, at)
			at += 2500
		}
		at = scriptedTrial(h, mark, at)
	}
	closing := session.Closing{Unlogged: "0", Reason: "done", Take: true, End: true}
	if strings.HasSuffix(s.marks, "4") {
		closing.Reason = "stop"
	}
	drafts, _ = run.Close(closing)
	h.Do(at+4000, drafts)
	if _, err := m.p.Receive(ctx, h.Events); err != nil {
		return err
	}
	if err := m.looked(ctx, h.Session, s); err != nil {
		return err
	}
	return m.p.CatchUp(ctx)
}

// scriptedTrial runs one trial from a moment, and returns the time after it.
func scriptedTrial(h *session.Hand, mark rune, at int64) int64 {
	keys := map[rune]work.Key{
		'm': work.Main, 'l': work.LateKey, 'h': work.HelpKey, 'x': work.MissKey,
		'0': work.Main, '1': work.MetKey, '2': work.LateKey, '3': work.HelpKey, '4': work.MissKey,
	}
	if mark == 'o' {
		h.Press(work.OfferKey, at)
		return at + 4000
	}
	key, known := keys[mark]
	if !known {
		return at
	}
	at = decoys(h, at)
	starts(h, at)
	took := int64(900)
	if work.Of(h.Run.Session().At.Kind).Holds && key == work.Main {
		took = int64(h.Run.Today().Criteria.Get(criteria.Duration)*1000) + 200
	}
	if key == work.LateKey {
		took = 2600
	}
	return ends(h, key, at, at+took) + 6500
}

// looked is what was said of a session afterwards.
func (m *maker) looked(ctx context.Context, session string, s script) error {
	if s.tags != "" {
		if err := m.p.Tag(ctx, session, form.Typed{"tags": s.tags}); err != nil {
			return err
		}
	}
	if s.source == "" {
		return nil
	}
	v, err := m.p.Review(ctx, session)
	if err != nil {
		return err
	}
	for _, row := range v.Table {
		if row.Right || row.ID == "" {
			continue
		}
		if err := m.p.Correct(ctx, session, form.Typed{
			"trial": row.ID, "outcome": row.Outcome, "source": s.source, "after": s.after,
		}); err != nil {
			return err
		}
	}
	return nil
}
