package web_test

import (
	"flag"
	"fmt"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"os"
	"regexp"
	"slices"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app/form"
	"patientfox/internal/app/people"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
	"patientfox/internal/web"
	"patientfox/internal/web/shell"
)

var update = flag.Bool("update", false, "write docs/roles.md anew")

// routes are all addresses of the program, each as a method and a pattern.
func routes(t *testing.T, o *practicetest.Opened) (list [][2]string) {
	t.Helper()
	app, err := web.New(ctx, o.Practice, web.Options{Log: practicetest.Quiet(), CA: []byte("a certificate")})
	require.NoError(t, err)
	for _, r := range app.GetRoutes(true) {
		if r.Method == http.MethodGet || r.Method == http.MethodPost {
			list = append(list, [2]string{r.Method, r.Path})
		} else {
			require.Equal(t, http.MethodHead, r.Method, r.Path)
		}
	}
	slices.SortFunc(list, func(a, b [2]string) int { return strings.Compare(a[1]+a[0], b[1]+b[0]) })
	return slices.Compact(list)
}

// signedIn is a browser with the device of a person.
func signedIn(t *testing.T, s served, person string) served {
	t.Helper()
	code, err := s.Pair(ctx, form.Typed{"person": person})
	require.NoError(t, err)
	claim, err := s.ClaimCode(ctx, "192.168.1.7", code)
	require.NoError(t, err)
	cookie, err := s.TakeClaim(ctx, claim, "a phone")
	require.NoError(t, err)
	b := s.another()
	base, err := url.Parse(s.base)
	require.NoError(t, err)
	jar, err := cookiejar.New(nil)
	require.NoError(t, err)
	jar.SetCookies(base, []*http.Cookie{{Name: "pf_device", Value: cookie}})
	b.http.Jar = jar
	return b
}

// Every address lets in whom the table says, and nobody else; the table in the documents says the same.
func TestEveryRoleReachesWhatTheTableSays(t *testing.T) {
	o := practicetest.Empty(t)
	s := serveAs(t, o, web.Options{SignIn: true, CA: []byte("a certificate")})
	for _, role := range []string{"viewer", "helper", "trainer", "family"} {
		require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "a " + role, "role": role}))
	}
	all, err := o.Devices(ctx)
	require.NoError(t, err)
	of := func(access people.Access) string {
		name := map[people.Access]string{
			people.Household: "a family", people.Viewer: "a viewer", people.Helper: "a helper", people.Trainer: "a trainer", people.Owner: "Trainer",
		}[access]
		for _, one := range all.People {
			if one.Name == name {
				return one.ID
			}
		}
		t.Fatal(access)
		return ""
	}
	token := func(b served) string {
		found := tokenField.FindStringSubmatch(b.get("/me").Body)
		require.NotNil(t, found)
		return found[1]
	}
	filled := regexp.MustCompile(`:[a-z]+`)
	list := routes(t, o)
	require.Greater(t, len(list), 150)
	for _, access := range people.Accesses {
		b := signedIn(t, s, of(access))
		csrf := token(b)
		for _, one := range list {
			method, pattern := one[0], one[1]
			if strings.HasPrefix(pattern, "/me/") && method == http.MethodPost {
				continue // each signs out; below
			}
			least, is := shell.Least(method, pattern)
			require.True(t, is, "%s %s", method, pattern)
			path := strings.TrimSuffix(filled.ReplaceAllString(pattern, "x"), "*")
			got := b.do(method, path, strings.NewReader(url.Values{"csrf": {csrf}}.Encode()),
				"Content-Type", "application/x-www-form-urlencoded", "Origin", s.base).Status
			if method == http.MethodPost && pattern == "/api/events" {
				got = b.do(method, path, strings.NewReader(`{"events":[]}`), "Content-Type", "application/json", shell.EventHeader, "1").Status
			}
			require.Equal(t, access < least, got == http.StatusForbidden, "%s: %s %s answers %d", access, method, pattern, got)
			require.NotEqual(t, http.StatusUnauthorized, got)
		}
	}
	for _, one := range list { // somebody who is not let in
		least, _ := shell.Least(one[0], one[1])
		path := strings.TrimSuffix(filled.ReplaceAllString(one[1], "x"), "*")
		if one[0] != http.MethodGet || strings.HasPrefix(path, "/pair") {
			continue // a form of theirs has no token
		}
		a := s.another().get(path)
		turned := a.Status == http.StatusUnauthorized || a.Status == http.StatusSeeOther && a.Header.Get("Location") == "/signin"
		require.Equal(t, least > people.Nobody, turned, "%s answers %d", path, a.Status)
	}
	style, err := os.ReadFile("../../styles/app.css")
	require.NoError(t, err)
	for _, one := range list { // whoever may only look is shown no button that leads to what they may not see
		parts := strings.FieldsFunc(one[1], func(c rune) bool { return c == '/' })
		literal := slices.DeleteFunc(parts, func(part string) bool { return strings.HasPrefix(part, ":") })
		if least, _ := shell.Least(one[0], one[1]); one[0] == http.MethodGet && least >= people.Trainer {
			hides := func(part string) bool { return strings.Contains(string(style), `[href*="/`+part+`"]`) }
			require.True(t, slices.ContainsFunc(literal, hides), "%s is not hidden from whoever only looks", one[1])
		}
	}
	written := rolesPage(list)
	if *update {
		require.NoError(t, os.WriteFile("../../docs/roles.md", []byte(written), 0o600))
	}
	golden, err := os.ReadFile("../../docs/roles.md")
	require.NoError(t, err)
	require.Equal(t, string(golden), written)
}

// rolesPage is the table as the documents have it.
func rolesPage(list [][2]string) string {
	var b strings.Builder
	b.WriteString("# Who may ask for what\n\n" +
		"Made by `go test ./internal/web -run EveryRole -update` from the table in `internal/web/shell/roles.go`; " +
		"a test asks for every address as everybody.\n\nThe server’s own machine reaches all of it, as an owner does. " +
		"Somebody of a household has homework by a link, and nothing else of the practice.\n\n")
	for _, access := range people.Accesses {
		fmt.Fprintf(&b, "- **%s**: %s\n", access, access.Says())
	}
	b.WriteString("\n| | anybody | household | viewer | helper | trainer | owner |\n| --- | --- | --- | --- | --- | --- | --- |\n")
	for _, one := range list {
		least, _ := shell.Least(one[0], one[1])
		fmt.Fprintf(&b, "| %s `%s` |", one[0], one[1])
		for access := people.Nobody; access <= people.Owner; access++ {
			if access < least {
				b.WriteString(" |")
			} else {
				b.WriteString(" yes |")
			}
		}
		b.WriteString("\n")
	}
	return b.String()
}

// Whoever signs out everywhere is out on all their devices, and nobody else is.
func TestSigningOutEverywhere(t *testing.T) {
	o := practicetest.Empty(t)
	s := serveAs(t, o, web.Options{SignIn: true})
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Jorun Vale, “the helper”", "role": "helper"}))
	all, err := o.Devices(ctx)
	require.NoError(t, err)
	owner, helper := all.People[0].ID, all.People[1].ID
	phone, laptop, other := signedIn(t, s, helper), signedIn(t, s, helper), signedIn(t, s, owner)
	body := phone.get("/me").Body
	require.Contains(t, body, "Jorun Vale, “the helper”")
	require.Contains(t, body, "on 1 other.")
	require.Contains(t, phone.get("/").Body, `href="/me"`)
	require.NotContains(t, phone.get("/").Body, `class="entry" href="/settings"`)
	require.Equal(t, 422, phone.post("/me", "/me/password", map[string]string{"password": "short", "again": "short", "person": owner}).Status)
	require.Equal(t, 303, phone.post("/me", "/me/everywhere", nil).Status)
	require.Equal(t, 303, phone.get("/").Status)
	require.Equal(t, 303, laptop.get("/").Status)
	require.Equal(t, 200, other.get("/").Status)
	require.Equal(t, 303, other.post("/me", "/me/out", nil).Status)
	require.Equal(t, 303, other.get("/me").Status)
}

// Somebody owns the practice at any time, and is a trainer of it.
func TestSomebodyOwnsThePractice(t *testing.T) {
	o := practicetest.Empty(t)
	all, err := o.Devices(ctx)
	require.NoError(t, err)
	me := all.People[0].ID
	s := serve(t, o)
	alone := s.post("/settings", "/settings/people", map[string]string{"id": me, "name": "Maren", "role": "trainer"})
	require.Equal(t, 422, alone.Status)
	require.Contains(t, alone.Body, "Somebody has to own the practice")
	require.NoError(t, o.SavePerson(ctx, form.Typed{"id": me, "name": "Maren Oduya"}), "a name alone changes nothing else")
	helps := s.post("/settings", "/settings/people", map[string]string{"name": "Jorun", "role": "helper", "owner": "1"})
	require.Equal(t, 422, helps.Status)
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Jorun", "role": "trainer", "owner": "1"}))
	require.NoError(t, o.SavePerson(ctx, form.Typed{"id": me, "name": "Maren Oduya", "role": "trainer"}))
}

// Who leaves is out at once, and named where they worked; the last owner stays, and so does whom the server's own machine works as.
func TestWhoLeavesIsOutAndStillNamed(t *testing.T) {
	o := practicetest.Empty(t)
	s := serveAs(t, o, web.Options{SignIn: true})
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Jorun Vale 🐚", "role": "trainer", "owner": "1"}))
	all, err := o.Devices(ctx)
	require.NoError(t, err)
	me, jorun := all.People[0].ID, all.People[1].ID
	require.NoError(t, o.SetPassword(ctx, "", form.Typed{"person": jorun, "password": "kelp and rope", "again": "kelp and rope"}))
	plan, _ := o.LayOut(t, "0.5, 1, 2")
	h := o.Session(t, plan, session.Choice{Handler: jorun})
	o.End(t, h, sessiontest.Hold(h, 1000, 2, 600, work.Main), session.Closing{})
	o.CatchUp(t)

	boss, phone := signedIn(t, s, me), signedIn(t, s, jorun)
	require.Contains(t, boss.get("/sessions/"+h.Session).Body, "<bdi>Jorun Vale 🐚</bdi>")
	leave := func(who string, form map[string]string) answer {
		return boss.post("/settings", "/settings/people/"+who+"/leave", form)
	}
	require.Equal(t, 404, leave("nobody", nil).Status)
	stays := leave(me, nil)
	require.Equal(t, 422, stays.Status)
	require.Contains(t, stays.Body, "it cannot leave")
	require.Equal(t, 200, phone.get("/").Status)
	require.Equal(t, 303, leave(jorun, nil).Status)
	require.Equal(t, 303, phone.get("/").Status)
	again := map[string]string{"name": "Jorun Vale 🐚", "password": "kelp and rope"}
	require.Equal(t, 422, s.another().post("/signin", "/signin", again).Status)
	require.Contains(t, boss.get("/sessions/"+h.Session).Body, "<bdi>Jorun Vale 🐚</bdi>", "the name stays")
	require.Equal(t, 422, leave(me, nil).Status, "the last owner")
	require.NotContains(t, boss.get("/devices").Body, "Jorun")

	require.Equal(t, 303, leave(jorun, map[string]string{"back": "1"}).Status)
	require.Equal(t, 303, phone.get("/").Status, "a device has to be let in anew")
	require.Equal(t, 403, signedIn(t, s, jorun).get("/devices").Status, "and nobody comes back as an owner")
}

// What somebody makes on their device is theirs; what is made on the server's own machine is in the name that it works in.
func TestWhatIsMadeIsByWhoDidIt(t *testing.T) {
	o := practicetest.Empty(t)
	s := serveAs(t, o, web.Options{SignIn: true})
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Jorun Vale 🐚", "role": "trainer"}))
	all, err := o.Devices(ctx)
	require.NoError(t, err)
	me, jorun := all.People[0], all.People[1]
	dog, err := o.AddDog(ctx, form.Typed{"name": "Whelk"})
	require.NoError(t, err)
	typed := form.Typed{"name": "Pups", "programme": "puppy-start", "start": "2026-11-21", "minutes": "60", "dog_" + dog: "1"}
	own, err := o.AddClass(ctx, typed)
	require.NoError(t, err)
	by := func(class, skill string) string {
		v, err := o.Class(ctx, class, 0)
		require.NoError(t, err)
		at := slices.Index(v.Skills, skill)
		h, err := o.History(ctx, v.Dogs[0].Cells[at].Plan, 0)
		require.NoError(t, err)
		return h.Plans[0].By
	}
	require.Equal(t, me.Name, by(own, "Sit"))
	typed["programme"], typed["name"] = "recall", "Recall"
	made := signedIn(t, s, jorun.ID).post("/classes/new", "/classes/new", typed)
	require.Equal(t, 303, made.Status)
	class := strings.TrimPrefix(made.Header.Get("Location"), "/classes/")
	v, err := o.Class(ctx, class, 0)
	require.NoError(t, err)
	require.Equal(t, jorun.Name, by(class, v.Skills[len(v.Skills)-1]))
}
