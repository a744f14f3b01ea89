package homework

import (
	"context"
	"errors"
	"slices"
	"strconv"
	"time"

	"github.com/google/uuid"

	"patientfox/core/homework"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// Bounds of a link.
const (
	usualWeeks  = 6 // that it lasts
	mostWeeks   = 26
	openedEvery = time.Hour      // when it was opened is kept to about that
	regret      = 24 * time.Hour // for so long a household can take a line back
	mostADay    = 60             // lines by one link
	mostAtOnce  = 10             // lines in one request
)

// Link lets somebody of a dog's household read its homework, and send back what came of it.
type Link = store.Link

// Linked is a link that somebody of a dog's household has.
type Linked struct {
	ID, Who string
	Until   string // the last day
	Opened  string // the day on which it was opened last, "" for never
}

// MakeLink makes a link for somebody of a dog's household that lasts so many weeks, in the fields "with" and "weeks", and answers with its
// token, which nothing keeps. The link that they had ends.
func (p *Cases) MakeLink(ctx context.Context, dog string, t form.Typed) (token string, err error) {
	ps := form.Problems{}
	weeks, err := strconv.Atoi(t.Text("weeks"))
	if t.Text("weeks") == "" {
		weeks, err = usualWeeks, nil
	}
	if err != nil || weeks < 1 || weeks > mostWeeks {
		ps.Add("weeks", "From 1 to "+strconv.Itoa(mostWeeks)+" weeks.")
	}
	q := p.Store.Read()
	s, _, err := p.WithDog(ctx, q, dog)
	if err != nil {
		return "", err
	}
	if _, there, err := handles(ctx, q, dog, t.Text("with")); err != nil {
		return "", err
	} else if !there {
		ps.Add("with", "Choose one of the list.")
	}
	if err := ps.Err(); err != nil {
		return "", err
	}
	token = store.NewSecret()
	l := store.Link{
		ID: app.NewID(), Token: store.Hashed(token), Dog: dog, Person: t.Text("with"), Made: p.Ms(), MadeBy: s.By,
		Expires: p.Now().AddDate(0, 0, 7*weeks).UnixMilli(),
	}
	if err := p.Store.Keys().SetLink(ctx, l); err != nil {
		return "", err
	}
	made := linkEntry(l.Person)
	return token, p.Store.Enter(ctx, store.Entry{What: "link", ID: l.ID, Dog: dog, Became: &made})
}

func linkEntry(person string) string { return store.JSON(map[string]string{"person": person}) }

// handles tells whether somebody may handle a dog, and their name.
func handles(ctx context.Context, q store.Q, dog, person string) (name string, there bool, err error) {
	all, err := q.HandledByAll(ctx, dog)
	at := slices.IndexFunc(all, func(one store.HandledAs) bool { return one.Person == person })
	if err != nil || at < 0 {
		return "", false, err
	}
	return all[at].Name, true, nil
}

// EndLink ends a link of a dog at once.
func (p *Cases) EndLink(ctx context.Context, dog, id string) error {
	links, err := p.Store.Keys().LinksOf(ctx, dog, p.Ms())
	if err != nil {
		return err
	}
	there, err := p.Store.Keys().EndLink(ctx, dog, id)
	if err == nil && !there {
		return app.ErrNotFound
	}
	at := slices.IndexFunc(links, func(l store.Link) bool { return l.ID == id })
	if err != nil || at < 0 {
		return err
	}
	ended := linkEntry(links[at].Person)
	return p.Store.Enter(ctx, store.Entry{What: "link", ID: id, Dog: dog, Was: &ended})
}

// linked lists the links of a dog.
func (p *Cases) linked(ctx context.Context, s app.Profile, dog string, people []app.Named) (list []Linked, err error) {
	links, err := p.Store.Keys().LinksOf(ctx, dog, p.Ms())
	today := s.Day(p.Ms())
	for _, l := range links {
		at := slices.IndexFunc(people, func(one app.Named) bool { return one.ID == l.Person })
		if at < 0 {
			continue // who was put away comes in no more
		}
		one := Linked{ID: l.ID, Who: people[at].Name, Until: app.ShortDay(s.Day(l.Expires), today)}
		if l.Opened > 0 {
			one.Opened = app.ShortDay(s.Day(l.Opened), today)
		}
		list = append(list, one)
	}
	return list, err
}

// Link is the one whose token it is; app.ErrNotFound where there is none, or no longer.
func (p *Cases) Link(ctx context.Context, token string) (l Link, err error) {
	l, err = p.Store.Keys().LinkByToken(ctx, store.Hashed(token), p.Ms())
	if errors.Is(err, store.ErrNone) {
		return l, app.ErrNotFound
	}
	return l, err
}

// AtHome is a sheet as its household reads it, with what they sent back.
type AtHome struct {
	View
	Until string    // the link's last day
	Sent  []Row     // by them, the latest first
	Week  app.Named // that the trainer told last, by its last day; none where that was never
}

// AtHome makes it. Who was put away, or belongs to the dog no more, has none: app.ErrNotFound.
func (p *Cases) AtHome(ctx context.Context, l Link) (v AtHome, err error) {
	err = p.Store.Snapshot(ctx, func(q store.Q) error {
		v.View, err = p.homework(ctx, q, l.Dog, Asked{With: l.Person})
		return err
	})
	if err == nil && (v.With.ID != l.Person || v.Away) {
		err = app.ErrNotFound
	}
	if err != nil {
		return AtHome{}, err
	}
	if v.recap != "" {
		v.Week = app.Named{ID: v.recap, Name: app.ShortDay(v.recap, v.Day)}
	}
	v.Until = app.ShortDay(v.profile.Day(l.Expires), v.Day)
	for _, one := range v.Back {
		if one.line.Person == l.Person && one.line.Came == store.CameByLink {
			one.Fresh = p.Ms()-one.line.Made < regret.Milliseconds()
			v.Sent = append(v.Sent, one)
		}
	}
	if now := p.Ms(); now-l.Opened > openedEvery.Milliseconds() {
		// Reading does not need the disk.
		if err := p.Store.Keys().OpenedLink(ctx, l.ID, now); err != nil {
			p.Log.Warn("that a link was opened could not be kept", "error", err.Error())
		}
	}
	return v, nil
}

// SentToday is what they sent of a plan for the sheet's day, in the order in which they did.
func (v AtHome) SentToday(plan string) (list []string) {
	for _, one := range slices.Backward(v.Sent) {
		if one.line.Plan == plan && one.line.Day == v.Day {
			list = append(list, one.Said)
		}
	}
	return list
}

// KeptRecap is a week of a link's dog as the trainer left it for its people; app.ErrNotFound where none did.
func (p *Cases) KeptRecap(ctx context.Context, l Link, to string) (Recap, error) {
	v, err := p.Recap(ctx, l.Dog, to, false)
	if err == nil && (v.Kept == "" || v.To != to || v.Away) {
		err = app.ErrNotFound
	}
	return v, err
}

// Sent is a line as a household's phone sends it. Its id is made there, so that one that is sent twice is kept once.
type Sent struct {
	ID      string `json:"id"` // UUID
	Plan    string `json:"plan"`
	Step    string `json:"step"` // that was shown
	Day     string `json:"day"`  // YYYY-MM-DD on the phone
	Met     int    `json:"met"`
	Of      int    `json:"of"` // of faces, their sum
	Relaxed int    `json:"relaxed"`
	Unsure  int    `json:"unsure"`
	Worried int    `json:"worried"`
	Place   string `json:"place"`
	Remark  string `json:"remark"`
}

// Taken is what became of one: kept, or refused for a reason.
type Taken struct {
	ID  string `json:"id"`
	Why string `json:"why,omitempty"`
}

// FromHome keeps what came by a link. A line that cannot be kept holds up no others; one that is known already is kept.
func (p *Cases) FromHome(ctx context.Context, l Link, list []Sent) (taken []Taken, err error) {
	if len(list) > mostAtOnce {
		return nil, form.Problems{"lines": "Too many at once."}.Err()
	}
	err = p.Store.Write(store.As(ctx, l.Person), func(q store.Q) error {
		s, row, err := p.WithDog(ctx, q, l.Dog)
		if err != nil {
			return err
		}
		if _, there, err := handles(ctx, q, l.Dog, l.Person); err != nil || !there || row.Deleted != nil {
			return errors.Join(err, app.ErrNotFound)
		}
		plans, err := worked(ctx, q, l.Dog, s)
		if err != nil {
			return err
		}
		today := s.Day(p.Ms())
		r, err := returnsOf(ctx, q, l.Dog, today)
		if err != nil {
			return err
		}
		before, err := q.SentSince(ctx, l.Dog, l.Person, p.Now().AddDate(0, 0, -1).UnixMilli())
		if err != nil {
			return err
		}
		for _, one := range list {
			why, err := p.take(ctx, q, s, l, plans, r, one, before >= mostADay)
			if err != nil {
				return err
			}
			if why == "" {
				before++
			}
			taken = append(taken, Taken{one.ID, why})
		}
		return nil
	})
	return taken, err
}

// take keeps one of them, or says why not.
func (p *Cases) take(
	ctx context.Context, q store.Q, s app.Profile, l Link, plans []app.Plan, r returns, one Sent, full bool,
) (why string, err error) {
	if len(one.ID) != len(uuid.Nil.String()) || uuid.Validate(one.ID) != nil {
		return "This cannot be read.", nil
	}
	switch dog, person, err := q.Sent(ctx, one.ID); {
	case err != nil:
		return "", err
	case person == l.Person && dog == l.Dog:
		return "", nil
	case person != "":
		return "This cannot be read.", nil
	}
	if full {
		return "That is more than can be in a day. Tell your trainer what it was.", nil
	}
	skills := skillsOf(plans)
	today := s.Day(p.Ms())
	if one.Day == s.Day(p.Now().AddDate(0, 0, 1).UnixMilli()) {
		one.Day = today // the phone is in another zone
	}
	at := slices.IndexFunc(plans, func(l app.Plan) bool { return l.ID == one.Plan })
	line := homework.Line{
		Skill: at, Day: one.Day, Met: one.Met, Of: one.Of, Relaxed: one.Relaxed, Unsure: one.Unsure, Worried: one.Worried,
		Place: one.Place, Remark: one.Remark,
	}
	if why := line.Check(skills, today); why != "" {
		return why, nil
	}
	ps := form.Problems{}
	line.Place, line.Remark = ps.Text("", line.Place, homework.MostText), ps.Text("", line.Remark, homework.MostText)
	if len(ps) > 0 {
		return ps[""], nil
	}
	return "", p.keep(ctx, q, s, plans[at], r, sent{
		Line: line, id: one.ID, step: one.Step, who: l.Person, came: store.CameByLink, by: l.Person,
	})
}

// TakeBackAtHome takes a line back that came by a link within the last day; the level follows.
func (p *Cases) TakeBackAtHome(ctx context.Context, l Link, id string) error {
	return p.Store.Write(store.As(ctx, l.Person), func(q store.Q) error {
		now := p.Ms()
		plan, err := q.DeleteSent(ctx, l.Dog, l.Person, id, now-regret.Milliseconds(), now)
		if err != nil {
			return err
		}
		if plan == "" {
			return app.ErrNotFound
		}
		return p.Stand(ctx, q, plan)
	})
}
