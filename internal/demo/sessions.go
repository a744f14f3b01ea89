package demo

import (
	"cmp"
	"context"
	"fmt"
	"math"
	"math/rand/v2"
	"slices"
	"time"

	"patientfox/core/criteria"
	"patientfox/core/outlook"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/derive"
)

// running is a plan that is worked over the weeks.
type running struct {
	plan   *plan
	id     string
	dog    *outlook.Learner
	rng    *rand.Rand // one each: tuning one plan leaves the others unchanged
	says   *rand.Rand // for what is said of its trials
	count  int
	last   int                       // day of the last session
	levels map[string]*outlook.Level // by step
	done   bool                      // the top step was passed: only probed from then on
	hands  string                    // who handles in the next session, by name, where that is not whose plan it is
	roles  trial.Roles               // who holds and feeds in it, where that is somebody else
	class  string                    // in whose meetings it is worked, by id
}

// earliest is the first day of what was begun before the six weeks.
const earliest = -80

// sessions works every plan, day by day.
func (m *maker) sessions(ctx context.Context) error {
	first := m.now.AddDate(0, 0, -7*weeks).Truncate(24 * time.Hour)
	days := 7*weeks + 1
	for day := earliest; day < days; day++ {
		for i, r := range m.runs {
			if day < r.plan.begins || day >= days-r.plan.until || (day-r.plan.begins)%r.plan.every != 0 {
				continue
			}
			at := first.AddDate(0, 0, day).Add(8*time.Hour + time.Duration(i*47+r.rng.IntN(30))*time.Minute)
			if at.Add(20 * time.Minute).After(m.now) {
				continue
			}
			if r.done && day-r.last < 8 {
				continue
			}
			m.clock = at
			lastOne := day+r.plan.every >= days-r.plan.until
			if err := m.session(ctx, r, day, lastOne); err != nil {
				return fmt.Errorf("%s on day %d: %w", r.plan.typed["skill"], day, err)
			}
		}
	}
	return nil
}

// where is a place's number among the plan's.
func (r *running) where(place string) uint8 { return uint8(slices.Index(r.plan.places, place)) }

// session runs one session, key by key.
func (m *maker) session(ctx context.Context, r *running, day int, lastOne bool) error {
	pack, err := m.p.Pack(ctx, r.id)
	if err != nil {
		return err
	}
	run, err := session.Open(pack)
	if err != nil {
		return err
	}
	if r.count > 0 {
		r.dog.Rest(day - r.last)
	}
	r.last = day
	place := r.plan.places[min(r.count/4, len(r.plan.places)-1)]
	r.count++
	sets := 2 + r.rng.IntN(3)
	if r.done = r.done || pack.Finished; r.done {
		sets = 1
	}
	h := &session.Hand{
		Run: run, Session: m.uuid(), Dev: "demo-phone", By: m.ids["Maren Oduya"], Handler: m.ids[cmp.Or(r.hands, r.plan.hands)],
		Wall: m.clock.UnixMilli(), NewID: m.uuid,
	}
	pieces := 40
	drafts, problem := run.Begin(session.Choice{
		Class: r.class,
		Place: m.ids[place], Handler: h.Handler, Holds: r.roles.Holds, Feeds: r.roles.Feeds, Pieces: fmt.Sprint(pieces),
	})
	if problem != nil {
		return fmt.Errorf("%s: %s", problem.Field, problem.Code)
	}
	h.Do(0, drafts)
	s := &simulated{maker: m, r: r, h: h, pack: pack, place: place, at: 6000}
	s.work(sets)
	s.end(pieces, lastOne)
	receipts, err := receive(ctx, m.p, h.Events)
	if err != nil {
		return err
	}
	for _, receipt := range receipts {
		if receipt.Result == derive.Refused {
			return fmt.Errorf("refused: %s", receipt.Why)
		}
	}
	return nil
}

// simulated is one session under way.
type simulated struct {
	*maker
	r     *running
	h     *session.Hand
	pack  pack.Pack
	place string
	at    int64 // ms
	ate   int
}

// level is today's step as this dog meets it: as hard as the plan was laid out, a half step made on the
// way half way between its neighbours.
func (s *simulated) level() *outlook.Level {
	b := s.h.Run.Session().Blocks[0]
	return s.r.level(b.Steps, progression.Index(b.Steps, b.Position.Today))
}

func (r *running) level(steps []progression.Step, i int) *outlook.Level {
	if level, known := r.levels[steps[i].ID]; known {
		return level
	}
	below, above := -r.plan.slope, 0.0
	for j := i - 1; j >= 0; j-- {
		if level, known := r.levels[steps[j].ID]; known {
			below = level.Hard
			break
		}
	}
	for j := i + 1; j < len(steps); j++ {
		if level, known := r.levels[steps[j].ID]; known {
			above = level.Hard
			break
		}
	}
	r.levels[steps[i].ID] = &outlook.Level{Hard: (below + above) / 2}
	return r.levels[steps[i].ID]
}

// work does sets until there were enough, a dog had enough, or the food is nearly gone.
func (s *simulated) work(sets int) {
	trials := sets * 5
	backs := 0
	for range trials * 2 {
		v := screen.Of(s.h.Run).View(s.at)
		if v.Phase == session.Deciding {
			if v.Main.Label == "Step back" {
				backs++
			}
			s.decide(v)
			if backs == 2 || s.done(trials) {
				return
			}
			continue
		}
		if s.done(trials) && s.setIsFull() {
			return
		}
		s.trial()
		if s.r.rng.IntN(22) == 0 {
			s.h.Press(work.BreakKey, s.at)
			s.at += int64(20000 + s.r.rng.IntN(30000))
			s.h.Press(work.BreakKey, s.at)
			s.at += 2000
		}
	}
}

func (s *simulated) done(trials int) bool {
	return len(s.h.Run.Session().Trials) >= trials || s.ate >= 34
}

func (s *simulated) setIsFull() bool {
	places := screen.Of(s.h.Run).View(s.at).Set.Places
	return len(places) > 0 && places[len(places)-1].Outcome != "" || s.ate >= 34
}

// decide mostly takes the verdict; now and then a trainer knows better.
func (s *simulated) decide(v screen.View) {
	s.at += int64(1500 + s.r.rng.IntN(3000))
	key := work.Main
	if s.r.rng.IntN(14) == 0 || v.Main.Label == "Split the step" && (s.r.plan.stuck > 0 || s.r.rng.IntN(3) > 0) {
		key = work.StayKey
	}
	s.h.Press(key, s.at)
	s.at += int64(3000 + s.r.rng.IntN(5000))
}

// trial is one opportunity: start, what the dog does, and the thumb.
func (s *simulated) trial() {
	b := s.h.Run.Session().Blocks[0]
	c := b.Steps[max(0, progression.Index(b.Steps, b.Position.Today))].Criteria
	d := s.level()
	response := s.r.dog.Try(d, s.r.where(s.place))
	s.at = decoys(s.h, s.at)
	if s.h.Run.Protects() && s.r.says.IntN(6) == 0 { // she would not have come
		s.h.Press(work.FetchedKey, s.at)
		s.at += 9000
	}
	from := s.at
	starts(s.h, from)
	if work.Of(s.pack.Kind).ByState {
		s.exposure(response, d)
		return
	}
	key, paid := work.Main, true
	s.passes(c, response)
	switch response.Outcome {
	case trial.Late:
		key, paid = work.LateKey, s.r.rng.IntN(3) > 0
	case trial.Helped:
		key = work.HelpKey // the mark pays it
		s.r.rng.IntN(2)    // which leaves the rest as it was
	case trial.Missed:
		key, paid = work.MissKey, false
	}
	if !s.offers(key) { // the kind of work has no such key
		key, paid = work.MissKey, false
		if response.Outcome == trial.Late {
			key, paid = work.Main, true
		}
	}
	s.at = ends(s.h, key, from, s.at)
	if paid {
		s.ate++
		if key != work.Main && key != work.HelpKey {
			s.h.Press(work.PayKey, s.at+700)
		}
	}
	s.tells(response)
	s.r.dog.Take(response, d, s.r.where(s.place), paid)
	s.at += int64(3500 + s.r.rng.IntN(4500))
	if response.Outcome == trial.Missed {
		s.at += int64(3000 + s.r.rng.IntN(5000)) // set up again
	}
}

// tells says more of the trial that was just closed, as a trainer does now and then.
func (s *simulated) tells(response outlook.Response) {
	say := s.r.says
	press := func(key work.Key) {
		s.at += 500
		s.h.Press(key, s.at)
	}
	switch n := len(s.pack.Errors); {
	case n == 0:
	case response.Outcome != trial.Met && say.IntN(2) == 0, response.Outcome == trial.Met && say.IntN(12) == 0:
		for i := range n { // what does not spoil it
			if e := s.pack.Errors[(i+say.IntN(n))%n]; !e.Spoils && e.Name != work.ToyIgnored {
				press(work.ErrorOf + work.Key(e.Name))
				break
			}
		}
	}
	if response.Outcome == trial.Helped {
		press(work.PromptOf + work.Key(work.Prompts[say.IntN(3)]))
	}
	if say.IntN(25) == 0 {
		press(work.MistakeKey)
		press(work.MistakeOf + work.Key(work.Mistakes[say.IntN(len(work.Mistakes))]))
	}
	if response.Outcome == trial.Missed && say.IntN(3) == 0 {
		press(work.ResetKey)
	}
	if say.IntN(18) == 0 {
		press(work.ArousalOf + work.Key('0'+rune(say.IntN(2))))
	}
}

// passes lets the time of a trial go by: a hold, or the way to the answer.
func (s *simulated) passes(c criteria.Criteria, response outlook.Response) {
	if work.Of(s.pack.Kind).Holds {
		hold := c.Get(criteria.Duration)
		if target, varied := s.h.Run.Target()[criteria.Duration]; varied {
			hold = target
		}
		// A long hold is paid inside, at the planned rate.
		if lo := s.pack.Pay.Band.Lo; lo > 0 && response.Outcome == trial.Met {
			for t := 60 / lo; t < hold-3; t += 60 / lo {
				s.h.Press(work.PayKey, s.at+int64(t*1000))
				s.ate++
			}
		}
		if response.Outcome == trial.Missed {
			s.at += int64(math.Max(300, hold*response.Part*1000))
		} else {
			s.at += int64(hold*1000) + int64(100+s.r.rng.IntN(500))
		}
	} else {
		s.at += int64(c.Get(criteria.Paces) * 650) // walked before the mark
		s.at += int64(math.Max(250, response.LatencyS*1000))
		if response.Outcome == trial.Missed {
			s.at += 4000
		}
	}
}

// offers tells whether a key can be touched just now.
func (s *simulated) offers(key work.Key) bool {
	row := s.h.Run.Kind().Row(s.h.Run.Moment(float64(s.at) / 1000))
	return key == work.Main || slices.ContainsFunc(row, func(b work.Button) bool { return b.Key == key }) || key == work.MissKey
}

// exposure is one of a stimulus or of a touch: it is on for a few seconds, and what the dog shows is logged
// and paid.
func (s *simulated) exposure(response outlook.Response, level *outlook.Level) {
	key := work.MetKey // at ease
	switch {
	case response.Outcome == trial.Met && s.r.rng.IntN(5) < 3:
		key = work.Main // expects good
	case response.Outcome == trial.Late || response.Outcome == trial.Helped:
		key = work.LateKey // wary
	case response.Outcome == trial.Missed && s.r.rng.IntN(3) == 0:
		key = work.HelpKey // worried
	case response.Outcome == trial.Missed:
		key = work.LateKey
	}
	from := s.at
	on := int64(2500 + s.r.rng.IntN(3000))
	if key == work.Main || key == work.MetKey { // as long as planned
		on = max(on, int64(s.h.Run.Today().Criteria.Get(criteria.Duration)*1000)+200)
	}
	s.at = ends(s.h, key, from, from+on)
	s.ate++
	s.r.dog.Take(response, level, s.r.where(s.place), true)
	s.at += int64(9000 + s.r.rng.IntN(9000))
}

// end closes the session: what was not logged, what is left, a line for next time.
func (s *simulated) end(pieces int, lastOne bool) {
	unlogged := max(0, s.r.rng.IntN(6)-3)
	closing := session.Closing{
		Unlogged: fmt.Sprint(unlogged), Left: fmt.Sprint(max(0, pieces-s.ate-unlogged)), Reason: "done", Take: true, End: true,
	}
	if lastOne && s.r.plan.stop {
		closing.Reason, closing.Next = "stop", "The real horn went. Start further out, and not on a ferry day."
	} else if s.r.rng.IntN(5) == 0 {
		closing.Next = []string{
			"Pay sooner after a miss.", "Same place once more before the next.", "Shorter: she was done after the third set.",
			"Ask Jorun to hold the line.",
		}[s.r.rng.IntN(4)]
	}
	s.at += 8000
	drafts, _ := s.h.Run.Close(closing)
	s.h.Do(s.at, drafts)
}
