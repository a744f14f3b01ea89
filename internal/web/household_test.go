package web_test

import (
	"bytes"
	"encoding/json"
	"fmt"
	"log/slog"
	"net/http"
	"strings"
	"sync"
	"testing"

	"github.com/google/uuid"
	"github.com/stretchr/testify/require"

	"patientfox/internal/app/form"
	"patientfox/internal/app/homework"
	"patientfox/internal/practicetest"
	"patientfox/internal/web"
)

// written is a log that is read while it is written.
type written struct {
	sync.Mutex
	text bytes.Buffer
}

func (w *written) Write(line []byte) (int, error) {
	w.Lock()
	defer w.Unlock()
	return w.text.Write(line)
}

func (w *written) String() string {
	w.Lock()
	defer w.Unlock()
	return w.text.String()
}

// homeLink makes a link for the first person of a dog's household, and answers with its path.
func homeLink(t testing.TB, o *practicetest.Opened, dog string) string {
	t.Helper()
	v, err := o.Homework(ctx, dog, homework.Asked{})
	require.NoError(t, err)
	token, err := o.MakeLink(ctx, dog, form.Typed{"with": v.With.ID})
	require.NoError(t, err)
	return "/h/" + token
}

// A link lets in to its own page alone, says nothing to who has none, and stands in no log.
func TestALinkReachesNothingElse(t *testing.T) {
	o := practicetest.Demo(t)
	today, err := o.Today(ctx)
	require.NoError(t, err)
	dog := today.Next[0].DogID
	path := homeLink(t, o, dog)
	var log written
	s := serveAs(t, o, web.Options{SignIn: true, Log: slog.New(slog.NewTextHandler(&log, nil))})
	page := s.get(path)
	require.Equal(t, 200, page.Status)
	require.Equal(t, "no-referrer", page.Header.Get("Referrer-Policy"))
	require.Equal(t, "private, no-store", page.Header.Get("Cache-Control"))
	for _, way := range []string{"/dogs", "/settings", "manifest", `href="/"`, "Keep away again"} {
		require.NotContains(t, page.Body, way)
	}
	for _, elsewhere := range []string{"/", "/dogs/" + dog, "/dogs/" + dog + "/homework", "/settings", path + "/../../dogs"} {
		require.NotEqual(t, 200, s.get(elsewhere).Status, elsewhere)
	}
	require.Equal(t, 401, s.get("/api/field").Status)
	require.Equal(t, "no-referrer", s.get(path+"/week?to=2026-01-01").Header.Get("Referrer-Policy"))

	v, err := o.Homework(ctx, dog, homework.Asked{})
	require.NoError(t, err)
	line := homework.Sent{ID: uuid.NewString(), Plan: v.Skills[0].Plan, Day: v.Day, Met: 4, Of: 5, Remark: "<script>alert(1)</script>"}
	lines, err := json.Marshal(map[string]any{"lines": []homework.Sent{line}})
	require.NoError(t, err)
	send := func(body string, header ...string) answer {
		return s.do("POST", path+"/lines", strings.NewReader(body), append([]string{"Content-Type", "application/json"}, header...)...)
	}
	own := []string{"X-Patient-Fox", "household"}
	require.Equal(t, 403, send(string(lines)).Status)
	require.Equal(t, 403, send(string(lines), append(own, "Origin", "https://elsewhere.example")...).Status)
	require.Equal(t, 400, send("{", own...).Status)
	require.Equal(t, 413, send(strings.Repeat(" ", 9<<10), own...).Status)
	require.JSONEq(t, fmt.Sprintf(`[{"id":%q}]`, line.ID), send(string(lines), own...).Body)
	require.Contains(t, s.get(path).Body, "&lt;script&gt;alert")
	require.Equal(t, 204, s.do("POST", path+"/lines/"+line.ID+"/away", http.NoBody, own...).Status)
	require.Equal(t, 404, s.do("POST", path+"/lines/"+line.ID+"/away", http.NoBody, own...).Status)

	wrong := path[:len(path)-3] + "xyz"
	require.Equal(t, 404, s.get(wrong).Status)
	require.NotContains(t, s.get(wrong).Body, "Pilchard")
	last := 0
	for range 30 {
		last = s.get(wrong).Status
	}
	require.Equal(t, 429, last, "who guesses waits")
	require.NotContains(t, s.get(wrong).Body, `href="/"`, "a household has no other page")
	require.NotContains(t, s.get(wrong).Body, "run/field.js", "nor the school's worker")
	require.Equal(t, 200, s.get(path).Status, "and who has a link does not")
	s.get("/h//" + path[3:]) // as somebody may mistype it
	require.Contains(t, log.String(), "path=/h/…")
	require.NotContains(t, log.String(), path[3:])
}

// Without an address that households' phones trust no link is offered, nor made.
func TestNoLinkWithoutAnAddress(t *testing.T) {
	o := practicetest.Demo(t)
	today, err := o.Today(ctx)
	require.NoError(t, err)
	at := "/dogs/" + today.Next[0].DogID + "/homework"
	s := serve(t, o)
	require.NotContains(t, s.get(at).Body, "Make a link")
	require.Contains(t, s.get(at).Body, "--public-url")
	require.Equal(t, 409, s.post(at, at+"/link", nil).Status)

	s = serveAs(t, o, web.Options{Households: "https://fox.example/"})
	v, err := o.Homework(ctx, today.Next[0].DogID, homework.Asked{})
	require.NoError(t, err)
	made := s.post(at, at+"/link", map[string]string{"with": v.With.ID, "skills": v.Skills[0].Plan})
	require.Equal(t, 200, made.Status)
	require.Contains(t, made.Body, `href="https://fox.example/h/`)
	require.Contains(t, made.Body, `class="squares"`)
	require.NotContains(t, s.get(at).Body, "fox.example", "it is shown once")
	require.Equal(t, 422, s.post(at, at+"/link", map[string]string{"with": v.With.ID, "skills": v.Skills[0].Plan, "weeks": "400"}).Status)
}
