package web_test

import (
	"fmt"
	"regexp"
	"strings"
	"testing"
	"time"

	"github.com/emersion/go-ical"
	"github.com/stretchr/testify/require"

	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// first finds what a pattern captures on a page.
func first(t *testing.T, body, pattern string) string {
	t.Helper()
	m := regexp.MustCompile(strings.ReplaceAll(pattern, " ", `\s+`)).FindStringSubmatch(body) // templates break lines
	require.NotNil(t, m, "nothing like %s", pattern)
	return m[1]
}

func TestRewardsAreKeptChangedAndPutAway(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	_, dog := s.LayOut(t, "2, 4")
	page := "/dogs/" + dog + "/rewards"
	require.Contains(t, s.get(page).Body, "Nothing yet. Write down what Tansy works for")
	for _, name := range []string{"<b>Sprats</b>", "Rind"} {
		require.Equal(t, 303, s.post(page, page, map[string]string{
			"name": name, "kind": "food", "kcal": "2", "grams": "1", "contains": "fish, <i>salt</i>",
		}).Status)
	}
	body := s.get(page).Body
	require.Contains(t, body, "&lt;b&gt;Sprats&lt;/b&gt;", "a name is a name")
	require.NotContains(t, body, "<i>salt")
	id := first(t, body, `name="id" value="([^"]+)"`)
	a := s.post(page, page, map[string]string{"id": id, "version": "1", "name": "Sprats", "kind": "food", "kcal": "90"})
	require.Equal(t, 422, a.Status)
	require.Contains(t, a.Body, "is that the packet?")
	require.Equal(t, 303, s.post(page, page, map[string]string{
		"id": id, "version": "1", "name": "Sprats", "kind": "food", "kcal": "2", "tier": "5",
	}).Status)
	a = s.post(page, page, map[string]string{"id": id, "version": "1", "name": "Herring", "kind": "food", "kcal": "2"})
	require.Equal(t, 409, a.Status)
	require.Contains(t, a.Body, "It now says: Sprats")
	require.Contains(t, a.Body, `value="Herring"`, "what was typed is kept")
	require.Equal(t, 303, s.post(page, page+"/today", map[string]string{"reward": id, "tier": "0"}).Status)
	require.Contains(t, s.get(page).Body, "Not today.")
	a = s.post(page, page+"/"+id+"/away", nil)
	require.Equal(t, 303, a.Status)
	require.NotContains(t, s.get(page).Body, ">Sprats<")
	away := s.get(a.Header.Get("Location")).Body
	require.Contains(t, away, "what was paid with it stays in the record")
	require.Equal(t, 303, s.post(a.Header.Get("Location"), page+"/"+id+"/away", map[string]string{"back": "1"}).Status)
	require.Contains(t, s.get(page).Body, ">Sprats<")
	require.Equal(t, 404, s.get("/dogs/nobody/rewards").Status)
}

func TestAPreferenceTestOverTheWire(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	_, dog := s.LayOut(t, "2, 4")
	page := "/dogs/" + dog + "/rewards"
	marked := map[string]string{}
	for _, name := range []string{"Sprats", "Rind"} {
		require.NoError(t, s.SaveReward(ctx, dog, form.Typed{"name": name, "kind": "food", "kcal": "2"}))
	}
	for _, m := range regexp.MustCompile(`name="(in_[^"]+)"`).FindAllStringSubmatch(s.get(page).Body, -1) {
		marked[m[1]] = "on"
	}
	require.Len(t, marked, 2)
	test := s.post(page, "/dogs/"+dog+"/tests", marked).Header.Get("Location")
	require.Contains(t, s.get(test).Body, "Offer 1 of 2")
	answer := func(took string) int {
		body := s.get(test).Body
		return s.post(test, test, map[string]string{
			"ord": first(t, body, `name="ord" value="(\d+)"`), "left": first(t, body, `name="left" value="([^"]+)"`),
			"right": first(t, body, `name="right" value="([^"]+)"`), "took": took,
		}).Status
	}
	require.Equal(t, 303, answer("left"))
	require.Equal(t, 404, answer("both"), "there is no such answer")
	require.Equal(t, 303, answer("left"))
	body := s.get(test).Body
	require.Contains(t, body, "Not sure yet", "left and left: a side, not a taste")
	require.Contains(t, body, "Three more pairs")
	require.Contains(t, s.get(test+"?more=1").Body, "Offer 3 of 5")
	require.Equal(t, 303, s.post(test, test+"/undo", nil).Status)
	require.Contains(t, s.get(test).Body, "Offer 2 of 2")
	require.Equal(t, 303, answer("none"))
	require.Contains(t, s.get(test).Body, "Neither was taken once")
	require.Equal(t, page, s.post(test, test+"/take", nil).Header.Get("Location"))
	require.Contains(t, s.get(test).Body, "What the test said")
	require.Contains(t, s.get(page).Body, "By the test of 23 Nov")
	require.Equal(t, 404, s.get("/tests/none").Status)
}

func TestASheetAndAWeekOverTheWire(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	_, dog := s.LayOut(t, "2, 4, 6")
	a := s.post("/dogs/"+dog+"/sheets/new", "/dogs/"+dog+"/sheets", map[string]string{"minutes": "10", "start": "16:05"})
	require.Equal(t, 303, a.Status)
	sheet := a.Header.Get("Location")
	body := s.get(sheet).Body
	require.Contains(t, body, "16:05 to 16:15")
	require.Contains(t, body, "no food is known yet, name one under Rewards")
	require.Contains(t, body, "The easiest step there is, paid well.", "nothing is below the first step")
	require.Contains(t, s.get("/dogs/"+dog+"/food").Body, ">not known</td>", "a food that nobody named has no energy")
	require.Contains(t, body, "Otherwise further off, and otherwise home", "what to do if it falls apart stands on it")
	save := func(version string, change map[string]string) answer {
		typed := map[string]string{"op": "save", "version": version, "day": "2026-11-23", "start": "16:05", "minutes": "10", "warm_min": "1"}
		for field, value := range change {
			typed[field] = value
		}
		return s.post(sheet, sheet, typed)
	}
	a = save("1", map[string]string{"sets0": "40", "set0": "5", "break0": "0", "exits": "by the winch"})
	require.Equal(t, 422, a.Status)
	require.Contains(t, a.Body, "1 to 12 sets.")
	require.Contains(t, a.Body, `value="by the winch"`)
	require.Equal(t, 303, save("1", map[string]string{"exits": "by the winch", "helper": "Jorun at the gate", "gear": "long line"}).Status)
	require.Equal(t, 409, save("1", nil).Status)
	require.Contains(t, s.get("/").Body, "Jorun at the gate", "Today says who helps")
	require.Contains(t, s.get("/").Body, "long line")

	file := s.get("/sessions.ics")
	require.Contains(t, file.Header.Get("Content-Type"), "text/calendar")
	cal, err := ical.NewDecoder(strings.NewReader(file.Body)).Decode()
	require.NoError(t, err)
	require.Len(t, cal.Events(), 1)
	at, err := cal.Events()[0].DateTimeStart(time.UTC)
	require.NoError(t, err)
	require.Equal(t, "16:05", at.Format("15:04"))
	require.Equal(t, 404, s.get("/sessions.ics?from=soon").Status)

	a = s.post("/week", "/week/plan", map[string]string{"day": "2026-11-30"})
	require.Equal(t, 303, a.Status)
	week := a.Header.Get("Location")
	require.Contains(t, s.get(week).Body, "2 sessions planned.")
	made := first(t, week, `made=(\d+)`)
	require.Equal(t, 303, s.post(week, "/week/unplan", map[string]string{"day": "2026-11-30", "made": made}).Status)
	require.NotContains(t, s.get("/week?day=2026-11-30").Body, "/sheets/")
	require.Equal(t, 400, s.post("/week", "/week/unplan", map[string]string{"day": "2026-11-30", "made": "all"}).Status)
	require.Equal(t, 404, s.get("/week?day=never").Status)

	require.Equal(t, 303, s.post(sheet, sheet+"/away", nil).Status)
	require.Contains(t, s.get(sheet).Body, "Taken out.")
	require.Equal(t, 404, s.get("/api"+sheet).Status, "nothing to run")
	require.Equal(t, 303, s.post(sheet, sheet+"/away", map[string]string{"back": "1"}).Status)
	require.Equal(t, 200, s.get("/api"+sheet).Status)
}

func TestPlacesSayWhatIsNotUsedThere(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	plan, _ := s.LayOut(t, "2, 4")
	require.NoError(t, s.SavePlace(ctx, form.Typed{"name": "the ferry ramp"}))
	v, err := s.Settings(ctx)
	require.NoError(t, err)
	place := v.Places[0].ID
	require.Equal(t, 303,
		s.post("/settings", "/settings/places/"+place, map[string]string{"ban_no_thrown": "on", "ban_nonsense": "on"}).Status)
	require.Contains(t, s.get("/settings").Body, "the ferry ramp: no thrown food")
	pack, err := s.Pack(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, "[no_thrown]", fmt.Sprint(pack.Bans[place]))
	require.Equal(t, 404, s.post("/settings", "/settings/places/none", nil).Status)
}
