package main

import (
	"bytes"
	"encoding/json"
	"fmt"
	"io"
	"log"
	"net/http"
	"slices"
	"sync"
	"sync/atomic"
	"time"

	"patientfox/core/record"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/practice"
)

// How many there are of each, and how often they ask: a phone that runs a session posts four events in five seconds and asks once a second
// for what others logged; a household looks at its sheet once a minute.
const (
	phones    = 200
	links     = 300
	lasts     = 30 * time.Second
	postEvery = 1250 * time.Millisecond
	pollEvery = time.Second
	lookEvery = time.Minute
)

// crowd: posts and pages of many phones and homework links at once beside those of one phone and one link. Requests come at their times,
// whether the ones before were answered or not.
func crowd(p *practice.Practice) {
	base, stop := serve(p)
	defer stop()
	home := homes(p)
	few := besieged(p, base, home, 1, 20)
	many := besieged(p, base, home, phones, links)
	again := besieged(p, base, home, 1, 20)
	few.posts, few.pages = append(few.posts, again.posts...), append(few.pages, again.pages...)
	for _, one := range []struct {
		what      string
		few, many []time.Duration
	}{{"posts", few.posts, many.posts}, {"a household's pages", few.pages, many.pages}} {
		a, b := late(one.few), late(one.many)
		most(fmt.Sprintf("%s beside %d phones and %d links ÷ beside one phone: 95th percentile", one.what, phones, links),
			float64(b)/float64(a), 3, fmt.Sprintf("%v ÷ %v, of %d", b.Round(time.Millisecond/10), a.Round(time.Millisecond/10), len(one.many)))
	}
}

// homes are the addresses of homework links: one for each family and dog.
func homes(p *practice.Practice) (addresses []string) {
	everybody, err := p.Store.Read().People(ctx)
	must(err)
	dogs, err := p.Store.Read().DogNames(ctx)
	must(err)
	for _, dog := range dogs {
		for _, one := range everybody {
			if one.Role == app.RoleFamily {
				token, err := p.MakeLink(ctx, dog.ID, form.Typed{"with": one.ID})
				must(err)
				addresses = append(addresses, "/h/"+token)
			}
		}
	}
	return addresses
}

// runs is a session of a plan as a phone logs it, whose events come one by one.
func runs(p *practice.Practice, plan string) []record.Event {
	pack, err := p.Pack(ctx, plan)
	must(err)
	run, err := session.Open(pack)
	must(err)
	h := &session.Hand{
		Run: run, Session: app.NewID(), Dev: "bench", By: pack.Person, Handler: pack.Person, Wall: p.Now().UnixMilli(), NewID: app.NewID,
	}
	drafts, problem := run.Begin(session.Choice{})
	if problem != nil {
		log.Fatal("a session that cannot begin: ", problem)
	}
	h.Do(0, drafts)
	for at := int64(1000); len(h.Events) < int(lasts/postEvery)+2 && at < 600_000; at += 3000 {
		h.Press(work.Main, at)
		h.Press(work.MetKey, at+2000)
	}
	return h.Events
}

// took is how long requests took from the moment at which they were due.
type took struct{ posts, pages []time.Duration }

// crowded asks a server for requests at their times.
type crowded struct {
	base   string
	client *http.Client
	under  sync.WaitGroup
	lock   sync.Mutex // of what answers keep
}

// ask makes a request at the moment at which it is due; answered runs alone.
func (c *crowded) ask(due time.Time, req func() *http.Request, answered func(took time.Duration, body []byte)) {
	c.under.Add(1)
	time.AfterFunc(time.Until(due), func() {
		defer c.under.Done()
		req := req()
		resp, err := c.client.Do(req)
		must(err)
		body, err := io.ReadAll(resp.Body)
		must(err)
		resp.Body.Close()
		if resp.StatusCode != http.StatusOK {
			log.Fatal(req.URL.Path[:min(12, len(req.URL.Path))], ": ", resp.Status)
		}
		c.lock.Lock()
		defer c.lock.Unlock()
		answered(time.Since(due), body)
	})
}

func (c *crowded) get(path string) *http.Request {
	req, err := http.NewRequest("GET", c.base+path, nil)
	must(err)
	return req
}

func (c *crowded) post(event record.Event) *http.Request {
	req, err := http.NewRequest("POST", c.base+"/api/events", bytes.NewReader(encode(map[string]any{"events": []record.Event{event}})))
	must(err)
	req.Header.Set("Content-Type", "application/json")
	req.Header.Set("X-Patient-Fox", "1")
	return req
}

// phone posts a session's events one by one from a moment on, and asks for what others log in it once it is there.
func (c *crowded) phone(at time.Time, events []record.Event, kept func(time.Duration, []byte)) {
	for k, e := range events {
		if due := time.Duration(k) * postEvery; due < lasts {
			c.ask(at.Add(due), func() *http.Request { return c.post(e) }, kept)
		}
	}
	seen := new(atomic.Int64)
	for due := postEvery; due < lasts; due += pollEvery {
		c.ask(at.Add(due+postEvery/2), func() *http.Request {
			return c.get(fmt.Sprintf("/api/sessions/%s/events?after=%d", events[0].Session, seen.Load()))
		}, func(_ time.Duration, body []byte) {
			var answer struct{ At int64 }
			must(json.Unmarshal(body, &answer))
			seen.Store(answer.At)
		})
	}
}

// besieged is asked by so many phones and links for a while.
func besieged(p *practice.Practice, base string, home []string, phones, links int) (all took) {
	plans, err := p.Store.Read().Plans(ctx, nil, 200)
	must(err)
	c := &crowded{base: base, client: &http.Client{Transport: &http.Transport{MaxIdleConnsPerHost: 1000}, Timeout: time.Minute}}
	kept := func(into *[]time.Duration) func(time.Duration, []byte) {
		return func(took time.Duration, _ []byte) { *into = append(*into, took) }
	}
	logs := make([][]record.Event, phones)
	for i := range logs {
		logs[i] = runs(p, plans[i%len(plans)].ID)
	}
	begins := time.Now().Add(time.Second)
	for i, events := range logs {
		c.phone(begins.Add(time.Duration(i)*postEvery/time.Duration(phones)), events, kept(&all.posts))
	}
	for i := range links {
		for due := time.Duration(i) * lookEvery / time.Duration(max(links, 20)); due < lasts; due += lookEvery {
			c.ask(begins.Add(due), func() *http.Request { return c.get(home[i%len(home)]) }, kept(&all.pages))
		}
	}
	c.under.Wait()
	return all
}

// late is the 95th percentile.
func late(all []time.Duration) time.Duration {
	slices.Sort(all)
	return all[len(all)*95/100]
}
