package demo

import (
	"context"
	"fmt"
	"time"

	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app/form"
)

// field acts two sessions out, key by key, for what chance would not show: a mixed deck with play and a life reward, and both sides of
// a care skill in one visit.
func (m *maker) field(ctx context.Context) error {
	if err := m.deck(ctx); err != nil {
		return fmt.Errorf("a mixed deck: %w", err)
	}
	return m.bothEars(ctx)
}

// opens begins a session of a plan, with its packs in hand.
func (m *maker) opens(ctx context.Context, place string, choice session.Choice, plans ...string) (*session.Hand, error) {
	var h *session.Hand
	for i, plan := range plans {
		p, err := m.p.Pack(ctx, plan)
		if err != nil {
			return nil, err
		}
		if i > 0 {
			if err := h.Run.Renew(p); err != nil {
				return nil, err
			}
			continue
		}
		run, err := session.Open(p)
		if err != nil {
			return nil, err
		}
		me := m.ids["Maren Oduya"]
		h = &session.Hand{Run: run, Session: m.uuid(), Dev: "demo-phone", By: me, Handler: me, Wall: m.clock.UnixMilli(), NewID: m.uuid}
		choice.Place, choice.Handler = m.ids[place], me
		if err := begins(h, 0, choice); err != nil {
			return nil, err
		}
	}
	return h, nil
}

// begins begins a block at a moment.
func begins(h *session.Hand, at int64, choice session.Choice) error {
	drafts, problem := h.Run.Begin(choice)
	if problem != nil {
		return fmt.Errorf("%s: %s", problem.Field, problem.Code)
	}
	h.Do(at, drafts)
	return nil
}

// over ends a session and brings it to the practice.
func (m *maker) over(ctx context.Context, h *session.Hand, at int64, closing session.Closing) error {
	closing.End, closing.Take = true, true
	drafts, problem := h.Run.Close(closing)
	if problem != nil {
		return fmt.Errorf("%s: %s", problem.Field, problem.Code)
	}
	h.Do(at, drafts)
	_, err := receive(ctx, m.p, h.Events)
	return err
}

// deck is eight trials of steadiness, each another mixture, paid with food and a tug in turn.
func (m *maker) deck(ctx context.Context) error {
	plan := m.ids["Steady for the mooring line"]
	m.clock = m.now.AddDate(0, 0, -3).Add(-2 * time.Hour)
	v, err := m.p.Plan(ctx, plan)
	if err != nil {
		return err
	}
	typed := form.Typed{"deck_lead": "2, 0", "deck_intensity": "1, 3", "version": fmt.Sprint(v.Version)}
	if err := m.p.SaveDeck(ctx, plan, typed); err != nil {
		return err
	}
	h, err := m.opens(ctx, "the net shed", session.Choice{Pieces: "40", Deck: true}, plan)
	if err != nil {
		return err
	}
	h.Do(3000, h.Run.Take(session.Hold{Turn: "tug"}))
	at := int64(6000)
	for i := range 8 {
		if h.Run.Phase() == session.Deciding {
			h.Press(work.StayKey, at)
			at += 2000
		}
		h.Press(work.Main, at)
		h.Press(work.Main, at+2000)
		key := work.Main
		if i == 2 || i == 6 {
			key = work.MissKey
		}
		if h.Run.Phase() == session.Trying {
			h.Press(key, at+5000)
		}
		switch i {
		case 2:
			h.Press(work.ErrorOf+"crept", at+6000)
			h.Press(work.ResetKey, at+7000)
		case 4:
			h.Press(work.JackpotKey, at+6000)
			h.Press(work.ReasonOf+"hardest yet", at+7500)
		case 5, 6:
			h.Press(work.ArousalOf+"2", at+8000)
		}
		at += 21000
	}
	h.Press(work.BreakKey, at)
	h.Press(work.Main, at+70000)
	return m.over(ctx, h, at+80000, session.Closing{
		Unlogged: "0", Reason: "done", Next: "Lead of two seconds again; she sagged on the throw.",
	})
}

// bothEars is a visit with four touches at each ear, decoys between them.
func (m *maker) bothEars(ctx context.Context) error {
	m.clock = m.now.AddDate(0, 0, -1).Add(-3 * time.Hour)
	left, right := "", ""
	for _, r := range m.runs {
		if r.plan.typed["skill"] == "Ear drops" {
			left, right = right, r.id
		}
	}
	h, err := m.opens(ctx, "the harbour office", session.Choice{Pieces: "20", Quota: "4"}, left)
	if err != nil {
		return err
	}
	at := int64(5000)
	for side, plan := range []string{left, right} {
		if side > 0 {
			p, err := m.p.Pack(ctx, plan)
			if err != nil {
				return err
			}
			if err := h.Run.Renew(p); err != nil {
				return err
			}
			if err := begins(h, at, session.Choice{Quota: "4"}); err != nil {
				return err
			}
			at += 5000
		}
		for i := range 4 {
			at = decoys(h, at)
			starts(h, at)
			at = ends(h, []work.Key{work.Main, work.MetKey, work.MetKey, work.Main}[i], at, at+4200) + 7000
		}
		h.Press(work.OtherKey, at)
		h.Press(work.ReasonOf+"came back", at+1200)
		at += 9000
	}
	return m.over(ctx, h, at, session.Closing{Unlogged: "0", Reason: "done"})
}
