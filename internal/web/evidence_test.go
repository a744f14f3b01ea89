package web_test

import (
	"encoding/csv"
	"encoding/json"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/internal/practicetest"
)

// plan finds a plan of the demo.
func (s served) plan(dog, skill string) string {
	s.t.Helper()
	rows, err := s.Store.Read().Plans(ctx, nil, 100)
	require.NoError(s.t, err)
	for _, row := range rows {
		if row.DogName == dog && row.SkillName == skill {
			return "/plans/" + row.ID
		}
	}
	require.Fail(s.t, "no such plan")
	return ""
}

func TestEveryTableLeavesAsCSV(t *testing.T) {
	s := serve(t, practicetest.Demo(t))
	plan := s.plan("Pilchard", "Down on the slipway")
	session := ""
	for _, path := range []string{"/evidence", "/progress", "/verdicts"} {
		page := s.get(plan + path).Body
		links := hrefs(page, ".csv")
		require.Equal(t, strings.Count(page, "<tbody>"), len(links), "%s: a table without its file", path)
		for _, link := range links {
			a := s.get(link)
			require.Equal(t, 200, a.Status, link)
			require.Equal(t, "text/csv; charset=utf-8", a.Header.Get("Content-Type"))
			require.Contains(t, a.Header.Get("Content-Disposition"), "attachment")
			rows, err := csv.NewReader(strings.NewReader(strings.TrimPrefix(a.Body, "\ufeff"))).ReadAll()
			require.NoError(t, err, link)
			require.Greater(t, len(rows), 1, link)
		}
		if path == "/verdicts" {
			session = hrefs(page, "/sessions/")[0]
		}
	}
	require.Equal(t, 200, s.get(session+"/trials.csv").Status)
	for _, nothing := range []string{"/evidence/nothing.csv", "/progress/nothing.csv", "/outlook/nothing.csv"} {
		require.Equal(t, 404, s.get(plan+nothing).Status, nothing)
	}
	for _, page := range []string{"/evidence", "/progress", "/outlook", "/verdicts", "/load"} {
		require.Equal(t, 404, s.get("/plans/nothing"+page).Status, page)
	}
}

// hrefs are the links of a page that have a part in them.
func hrefs(page, part string) (list []string) {
	for _, piece := range strings.Split(page, `href="`)[1:] {
		if link, _, _ := strings.Cut(piece, `"`); strings.Contains(link, part) {
			list = append(list, link)
		}
	}
	return list
}

func TestTagsAndSetbacksKeepWhatWasTyped(t *testing.T) {
	s := serve(t, practicetest.Demo(t))
	plan := s.plan("Tansy", "Wait at the ramp")
	bad := s.post(plan+"/progress", plan+"/setbacks", map[string]string{"day": "tomorrow", "steps": "two", "what": "<b>horn</b>"})
	require.Equal(t, 422, bad.Status)
	for _, text := range []string{"A day up to today", "A whole number from 1 to 20.", `value="two"`, "&lt;b&gt;horn&lt;/b&gt;"} {
		require.Contains(t, bad.Body, text)
	}
	require.Equal(t, 303, s.post(plan+"/progress", plan+"/setbacks", map[string]string{"what": "A cart", "key": "once"}).Status)
	require.Equal(t, 303, s.post(plan+"/progress", plan+"/setbacks", map[string]string{"what": "A cart", "key": "once"}).Status)
	require.Equal(t, 1, strings.Count(s.get(plan+"/progress").Body, "</strong> A cart"), "a double click logs one")
	session := hrefs(s.get(plan).Body, "/sessions/")[0]
	many := s.post(session, session+"/tags", map[string]string{"tags": "a,b,c,d,e,f,g,h,i,j"})
	require.Equal(t, 422, many.Status)
	require.Contains(t, many.Body, "10 tags; at most 8")
	require.Contains(t, many.Body, `value="a,b,c,d,e,f,g,h,i,j"`)
	require.Equal(t, 303, s.post(session, session+"/tags", map[string]string{"tags": "Wind"}).Status)
	require.Contains(t, s.get(session).Body, `value="wind"`)
}

func TestALongLookTellsHowFarItIs(t *testing.T) {
	s := serve(t, practicetest.Demo(t))
	plan := s.plan("Brine", "Sit while the gate opens")
	look := func() (v struct {
		Running bool
		Part    int
	}) {
		require.NoError(t, json.Unmarshal([]byte(s.get("/api"+plan+"/outlook/compare").Body), &v))
		return v
	}
	require.False(t, look().Running, "nobody asked yet")
	require.Eventually(t, func() bool { return strings.Contains(s.get(plan+"/outlook").Body, "more sessions to the top step") },
		20*time.Second, 20*time.Millisecond)
	require.Equal(t, 303, s.post(plan+"/outlook", plan+"/outlook/compare", nil).Status)
	require.Eventually(t, func() bool { return !look().Running }, 60*time.Second, 20*time.Millisecond)
	page := s.get(plan + "/outlook").Body
	require.Contains(t, page, "This plan: sets")
	for _, link := range hrefs(page, ".csv") {
		require.Equal(t, 200, s.get(strings.ReplaceAll(link, "&amp;", "&")).Status, link)
	}
	require.Equal(t, 404, s.post("/settings", plan+"/outlook/weather", nil).Status)
}
