package web_test

import (
	"context"
	"database/sql"
	"encoding/json"
	"io"
	"net"
	"net/http"
	"net/http/cookiejar"
	"net/url"
	"regexp"
	"slices"
	"strings"
	"testing"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app/form"
	"patientfox/internal/app/schedule"
	"patientfox/internal/demo"
	"patientfox/internal/derive"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
	"patientfox/internal/store"
	"patientfox/internal/web"
)

var ctx = context.Background()

// served is the application on a real port, with a client that keeps cookies and follows nothing.
type served struct {
	*practicetest.Opened
	t    testing.TB
	base string
	http *http.Client
}

func serve(t testing.TB, o *practicetest.Opened) served { return serveAs(t, o, web.Options{}) }

func serveAs(t testing.TB, o *practicetest.Opened, options web.Options) served {
	t.Helper()
	if options.Log == nil {
		options.Log = practicetest.Quiet()
	}
	app, err := web.New(ctx, o.Practice, options)
	require.NoError(t, err)
	listener, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	done := make(chan error, 1)
	go func() { done <- app.Listener(listener, fiber.ListenConfig{DisableStartupMessage: true}) }()
	t.Cleanup(func() {
		require.NoError(t, app.ShutdownWithTimeout(5*time.Second))
		require.NoError(t, <-done)
	})
	return served{o, t, "http://" + listener.Addr().String(), nil}.another()
}

// another is another browser at the same application.
func (s served) another() served {
	jar, err := cookiejar.New(nil)
	require.NoError(s.t, err)
	s.http = &http.Client{Jar: jar, CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
	return s
}

type answer struct {
	Status int
	Header http.Header
	Body   string
}

func (s served) do(method, path string, body io.Reader, header ...string) answer {
	s.t.Helper()
	req, err := http.NewRequestWithContext(ctx, method, s.base+path, body)
	require.NoError(s.t, err)
	for i := 0; i+1 < len(header); i += 2 {
		req.Header.Set(header[i], header[i+1])
		if header[i] == "Host" {
			req.Host = header[i+1]
		}
	}
	resp, err := s.http.Do(req)
	require.NoError(s.t, err)
	defer resp.Body.Close()
	raw, err := io.ReadAll(resp.Body)
	require.NoError(s.t, err)
	return answer{resp.StatusCode, resp.Header, string(raw)}
}

func (s served) get(path string) answer {
	s.t.Helper()
	return s.do("GET", path, nil)
}

var tokenField = regexp.MustCompile(`name="csrf" value="([^"]+)"`)

// post fills in the form of a page: its token, and the given fields.
func (s served) post(page, path string, fields map[string]string) answer {
	s.t.Helper()
	token := tokenField.FindStringSubmatch(s.get(page).Body)
	require.NotNil(s.t, token, "%s has no form", page)
	values := url.Values{"csrf": {token[1]}}
	for name, value := range fields {
		values.Set(name, value)
	}
	return s.do("POST", path, strings.NewReader(values.Encode()), "Content-Type", "application/x-www-form-urlencoded", "Origin", s.base)
}

func TestEveryAnswerIsGuarded(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	for _, path := range []string{"/", "/dogs", "/settings", "/run", "/run/class", "/nothing", "/healthz", "/api/packs/none"} {
		a := s.get(path)
		policy := a.Header.Get("Content-Security-Policy")
		require.Contains(t, policy, "script-src 'self';", path)
		require.Contains(t, policy, "style-src 'self';", path)
		require.NotContains(t, policy, "unsafe", path)
		require.Equal(t, "nosniff", a.Header.Get("X-Content-Type-Options"), path)
		require.NotEmpty(t, a.Header.Get("X-Request-Id"), path)
	}
	worker := s.get("/run/worker.js").Header.Get("Content-Security-Policy")
	require.Contains(t, worker, "'wasm-unsafe-eval'")
	require.NotContains(t, worker, "'unsafe-eval'")
	require.Equal(t, "private, no-store", s.get("/").Header.Get("Cache-Control"))
}

func TestForeignHostsAndFormsAreRefused(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	require.Equal(t, 421, s.do("GET", "/", nil, "Host", "evil.example").Status)
	require.Equal(t, 200, s.do("GET", "/", nil, "Host", "localhost:8420").Status)
	shown := func(header ...string) int {
		return s.do("POST", "/dogs", strings.NewReader("name=Tansy"), append(header, "Content-Type",
			"application/x-www-form-urlencoded")...).Status
	}
	require.Equal(t, 403, shown(), "no token")
	require.Equal(t, 403, shown("Origin", "http://evil.example"))
	require.Equal(t, 403, shown("Sec-Fetch-Site", "cross-site"))
	require.Equal(t, 403, shown("X-Patient-Fox", "1", "Origin", "http://evil.example"))
	require.Equal(t, 303, s.post("/dogs/new", "/dogs", map[string]string{"name": "Tansy"}).Status)
	v, err := s.Dogs(ctx, "")
	require.NoError(t, err)
	require.Len(t, v.Dogs, 1)
}

func TestAFormSurvivesARestart(t *testing.T) {
	o := practicetest.Empty(t)
	first := serve(t, o)
	token := tokenField.FindStringSubmatch(first.get("/dogs/new").Body)[1]
	second := serve(t, o)
	u, err := url.Parse(first.base)
	require.NoError(t, err)
	u2, err := url.Parse(second.base)
	require.NoError(t, err)
	second.http.Jar.SetCookies(u2, first.http.Jar.Cookies(u))
	a := second.do("POST", "/dogs", strings.NewReader(url.Values{"csrf": {token}, "name": {"Quill"}}.Encode()),
		"Content-Type", "application/x-www-form-urlencoded")
	require.Equal(t, 303, a.Status)
}

func TestBadInputKeepsWhatWasTyped(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	notes := strings.Repeat("long ", 2001)
	a := s.post("/dogs/new", "/dogs", map[string]string{"name": "", "weight_kg": "ten", "notes": notes, "flags": `<b onclick="x">bites</b>`})
	require.Equal(t, 422, a.Status)
	require.Contains(t, a.Body, "Give the dog a name.")
	require.Contains(t, a.Body, `value="ten"`)
	require.Contains(t, a.Body, strings.TrimSpace(notes))
	require.Contains(t, a.Body, "&lt;b onclick=&#34;x&#34;&gt;bites&lt;/b&gt;", "what was typed comes back escaped")
	require.Contains(t, a.Body, `aria-invalid="true"`)

	plan, dog := s.LayOut(t, "2, 4")
	a = s.post("/dogs/"+dog+"/plans/new?kind=held", "/dogs/"+dog+"/plans", map[string]string{
		"skill": "Chin rest", "kind": "held", "leg1_make": "figures", "leg1_what": "duration", "leg1_items": "ten", "cue": "palm",
	})
	require.Equal(t, 422, a.Status)
	require.Contains(t, a.Body, "“ten” is not a number")
	require.Contains(t, a.Body, `value="palm"`)
	v, err := s.Plan(ctx, plan)
	require.NoError(t, err)
	a = s.post("/plans/"+plan, "/plans/"+plan+"/steps", map[string]string{
		"op": "save", "step": v.Steps[1].ID, "version": "1", "duration": "-3", "text": "at the lip",
	})
	require.Equal(t, 422, a.Status)
	require.Contains(t, a.Body, `value="-3"`)
	require.Contains(t, a.Body, `value="at the lip"`)
	require.Contains(t, a.Body, "Duration takes 0.5 to 7200 s.")
	a = s.post("/plans/"+plan, "/plans/"+plan+"/steps", map[string]string{
		"op": "save", "step": v.Steps[1].ID, "version": "7", "duration": "3",
	})
	require.Equal(t, 409, a.Status)
	require.Contains(t, a.Body, "Somebody changed this meanwhile")
	a = s.post("/plans/"+plan, "/plans/"+plan+"/rule", map[string]string{"kind": "set", "size": "five"})
	require.Equal(t, 422, a.Status)
	require.Contains(t, a.Body, `value="five"`)
}

func TestUnknownThingsAndLargeOnesGetAPage(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	for _, path := range []string{
		"/dogs/nobody", "/plans/none", "/sessions/none", "/nowhere", "/a/0/app.css", "/a/" + strings.Repeat("x", 300),
	} {
		a := s.get(path)
		require.Equal(t, 404, a.Status, path)
		require.Contains(t, a.Body, "Nothing here", path)
		require.Contains(t, a.Body, "Request ", path)
	}
	require.Equal(t, 405, s.do("DELETE", "/dogs", nil).Status)
	a := s.do("POST", "/api/events", strings.NewReader(strings.Repeat("x", 300<<10)), "Content-Type", "application/json", "X-Patient-Fox", "1")
	require.Equal(t, 413, a.Status)
	a = s.do("GET", "/api/packs/none", nil)
	require.Equal(t, "application/problem+json", a.Header.Get("Content-Type"))
	require.Equal(t, 404, a.Status)
}

func TestEventsAreAnsweredByID(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "2, 4")
	h := s.Session(t, plan, session.Choice{})
	sessiontest.Hold(h, 1000, 2, 2000, work.Main)
	send := func(body string, header ...string) answer {
		return s.do("POST", "/api/events", strings.NewReader(body), append([]string{
			"Content-Type", "application/json", "X-Patient-Fox", "1",
		}, header...)...)
	}
	raw, err := json.Marshal(h.Events)
	require.NoError(t, err)
	body := `{"events":` + strings.TrimSuffix(string(raw), "]") + `,{"id":"odd","t":"later"},7]}`
	a := send(body)
	require.Equal(t, 200, a.Status, a.Body)
	var got struct{ Receipts []derive.Receipt }
	require.NoError(t, json.Unmarshal([]byte(a.Body), &got))
	require.Len(t, got.Receipts, len(h.Events)+2)
	require.Equal(t, record.Stored, got.Receipts[0].Result)
	require.Equal(t, "odd", got.Receipts[len(h.Events)].ID)
	require.Equal(t, derive.Refused, got.Receipts[len(h.Events)].Result)
	// The answer follows the commit: another connection sees what was acknowledged.
	other, err := sql.Open("sqlite", s.Path)
	require.NoError(t, err)
	defer other.Close()
	seen := 0
	require.NoError(t, other.QueryRow(`SELECT count(*) FROM events WHERE session = ?`, h.Session).Scan(&seen))
	require.Equal(t, len(h.Events), seen)
	require.Equal(t, 400, send(`{"events":`).Status)
	require.Equal(t, 415, send(body, "Content-Type", "text/plain").Status)
	require.Equal(t, 413, send(`{"events":[`+strings.TrimSuffix(strings.Repeat("1,", 201), ",")+`]}`).Status)
	require.Equal(t, 403, s.do("POST", "/api/events", strings.NewReader(body), "Content-Type", "application/json").Status)
	require.Equal(t, 200, s.get("/sessions/"+h.Session).Status)
}

// pages lists every main page of a practice.
func pages(t testing.TB, o *practicetest.Opened) map[string]string {
	t.Helper()
	today, err := o.Today(ctx)
	require.NoError(t, err)
	row := today.Next[0]
	v, err := o.Plan(ctx, row.ID)
	require.NoError(t, err)
	week, err := o.Week(ctx, "2026-11-22")
	require.NoError(t, err)
	worked := ""
	for _, day := range week.Days {
		for _, slot := range day.Slots {
			if slot.Session != "" {
				worked = slot.Session
			}
		}
	}
	require.NotEmpty(t, worked, "the demo has a session that followed its sheet")
	return map[string]string{
		"a planned session looked back at": "/sessions/" + worked,
		"today":                            "/", "dogs": "/dogs", "dog": "/dogs/" + row.DogID,
		"dog form": "/dogs/" + row.DogID + "/edit", "new plan": "/dogs/" + row.DogID + "/plans/new",
		"sessions": "/dogs/" + row.DogID + "/sessions",
		"plan":     "/plans/" + row.ID, "pack": "/api/packs/" + row.ID, "run": "/run", "meeting": "/run/class",
		"review":   "/sessions/" + v.Sessions[0].ID,
		"settings": "/settings", "journal": "/journal",
		"library": "/library", "template": "/library/stay-in-place", "choose": "/dogs/" + row.DogID + "/plans/new",
		"newplan": "/dogs/" + row.DogID + "/plans/new?from=stay-in-place", "build": "/plans/" + row.ID + "/build",
		"history": "/plans/" + row.ID + "/history?reread=1", "verdicts": "/plans/" + row.ID + "/verdicts",
		"pay": "/plans/" + row.ID + "/pay", "rewards": "/dogs/" + row.DogID + "/rewards", "food": "/dogs/" + row.DogID + "/food", "week": "/week",
		"sheet": "/sheets/" + today.Slots[0].ID, "new sheet": "/dogs/" + row.DogID + "/sheets/new", "calendar": "/sessions.ics",
		"progress": "/plans/" + row.ID + "/progress", "evidence": "/plans/" + row.ID + "/evidence", "outlook": "/plans/" + row.ID + "/outlook",
		"load": "/plans/" + row.ID + "/load", "learning": "/dogs/" + row.DogID + "/learning", "learning over all": "/learning",
		"experiment": "/plans/" + row.ID + "/experiment",
		"enter":      "/plans/" + row.ID + "/enter",
		"care":       "/dogs/" + row.DogID + "/care", "taking over": "/dogs/" + row.DogID + "/takeover",
		"health": "/dogs/" + row.DogID + "/health", "homework": "/dogs/" + row.DogID + "/homework",
		"fridge": "/dogs/" + row.DogID + "/homework/fridge", "recap": "/dogs/" + row.DogID + "/recap", "post": "/post",
		"a household's page": homeLink(t, o, row.DogID),
		"classes":            "/classes", "new class": "/classes/new", "class": "/classes/" + newClass(t, o), "programmes": "/programmes",
		"programme": "/programmes/puppy-start",
		"team":      "/team", "note": "/team/note?plan=" + row.ID, "hand-over": handedOver(t, o, row.DogID),
		"own handling": "/me/handling",
	}
}

// handedOver assigns a dog for the day, and answers with the sheet for who works it.
func handedOver(t testing.TB, o *practicetest.Opened, dog string) string {
	t.Helper()
	s, err := o.Settings(ctx)
	require.NoError(t, err)
	day := o.Clock.Now().Format("2006-01-02")
	require.NoError(t, o.Assign(ctx, form.Typed{"day": day, "dog_" + dog: s.Me, "was_" + dog: ""}))
	require.NoError(t, o.AddNote(ctx, form.Typed{"dog": dog, "text": "“Wet” ramp, mind the gulls 🐟"}))
	return "/team/handover?with=" + s.Me
}

func TestPagesKeepToEightStatements(t *testing.T) {
	o := practicetest.Demo(t)
	app, err := web.New(ctx, o.Practice, web.Options{Log: practicetest.Quiet()})
	require.NoError(t, err)
	var cost store.Cost
	counted := fiber.New()
	counted.Use(func(c fiber.Ctx) error {
		c.SetContext(store.Counting(c.Context(), &cost))
		return c.Next()
	})
	counted.Use("/", app)
	all := pages(t, o)
	today, err := o.Today(ctx)
	require.NoError(t, err)
	long, err := demo.Long(ctx, o.Practice, today.Next[0].DogID, practicetest.Now.AddDate(0, 0, -20))
	require.NoError(t, err)
	v, err := o.Plan(ctx, long)
	require.NoError(t, err)
	require.GreaterOrEqual(t, len(v.Steps), 60, "%d steps", len(v.Steps))
	require.GreaterOrEqual(t, len(v.Points), 300, "%d sets", len(v.Points))
	all["a long plan"] = "/plans/" + long
	for _, page := range []string{"progress", "evidence", "load", "outlook"} {
		all["a long plan's "+page] = "/plans/" + long + "/" + page
	}
	stuck := slices.IndexFunc(today.Decide, func(d schedule.DecideRow) bool { return d.Stuck })
	require.GreaterOrEqual(t, stuck, 0)
	all["a stuck plan's evidence"] = "/plans/" + today.Decide[stuck].Plan + "/evidence"
	all["a long plan, all of it"] = "/plans/" + long + "?whole=1&all=1"
	for name, path := range all {
		// Something has changed since, so that nothing is shown from memory.
		require.NoError(t, o.SavePlace(ctx, form.Typed{"name": "place for " + name}))
		cost.Statements.Store(0)
		req, err := http.NewRequestWithContext(ctx, "GET", "http://127.0.0.1"+path, nil)
		require.NoError(t, err)
		resp, err := counted.Test(req, fiber.TestConfig{Timeout: 10 * time.Second})
		require.NoError(t, err)
		require.NoError(t, resp.Body.Close())
		require.Equal(t, 200, resp.StatusCode, name)
		n := cost.Statements.Load()
		require.LessOrEqual(t, n, int64(8), "%s makes %d statements", name, n)
		// What the others show is known, worked out in the background, or ships with the program.
		if !slices.Contains([]string{"run", "meeting", "learning over all", "programme", "programmes"}, name) {
			require.Positive(t, n, name)
		}
	}
}

func TestPagesHaveNothingInline(t *testing.T) {
	s := serve(t, practicetest.Demo(t))
	inline := regexp.MustCompile(`(?i)<script(?:\s[^>]*)?>\s*[^<\s]|\sstyle=|<style|\son[a-z]+=|https?://`)
	for name, path := range pages(t, s.Opened) {
		a := s.get(path)
		require.Equal(t, 200, a.Status, name)
		if name == "pack" {
			continue
		}
		body := strings.ReplaceAll(a.Body, `xmlns="http://www.w3.org/2000/svg"`, "")
		require.Empty(t, inline.FindString(body), name)
		for _, asset := range regexp.MustCompile(`(?:src|href|data-exec|data-wasm)="(/a/[^"]+)"`).FindAllStringSubmatch(a.Body, -1) {
			require.Equal(t, 200, s.get(asset[1]).Status, asset[1])
		}
	}
}

func TestHealth(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	require.Equal(t, "ok\n", s.get("/healthz").Body)
}

// What was forwarded, or asks by another name, is never taken for this machine; a device comes in all the same.
func TestForwardedRequestsAreNotLocal(t *testing.T) {
	o := practicetest.Empty(t)
	s := serve(t, o)
	require.Equal(t, 200, s.get("/").Status)
	for _, header := range []string{"Forwarded", "X-Forwarded-For", "X-Forwarded-Host", "X-Real-IP", "Via"} {
		require.Equal(t, 303, s.do("GET", "/", nil, header, "10.0.0.9").Status, header)
		require.Equal(t, 401, s.do("GET", "/api/field", nil, header, "10.0.0.9").Status, header)
		require.Equal(t, 200, s.do("GET", "/signin", nil, header, "10.0.0.9").Status, header)
	}
	require.NotContains(t, s.do("GET", "/signin", nil, "Via", "x").Body, "Trainer", "nobody is named")
}

func TestTriesAreBoundedBeforeAnythingIsRead(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	status := 0
	for range 12 {
		status = s.do("POST", "/signin", strings.NewReader("name=Trainer&password=x"), "Content-Type", "application/x-www-form-urlencoded").Status
	}
	require.Equal(t, 429, status, "without a form token too")
}
