package web_test

import (
	"encoding/json"
	"fmt"
	"math/rand/v2"
	"net/url"
	"os"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/record"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
	"patientfox/internal/web"
)

// asked is how often something is tried: `make soak` asks for more than tests do.
func asked(name string, otherwise int) int {
	if n, err := strconv.Atoi(os.Getenv(name)); err == nil {
		return n
	}
	return otherwise
}

// odd are values that people, and others, put into forms.
var odd = []string{
	"", " ", "0", "1", "-1", "5", "1e9", "99999999999999999999", "0.5", "1,5", "NaN", "x", "five", "2026-11-23", "2026-13-40",
	"9:00", "25:99", "met", "set", "gate", "held", "cued", "save", "add", "remove",
	"mend", "list", "split", "true", "on", "duration", "paces", "“wait”", "gulls, tar; rope", "<b onclick=\"x\">", "{{.}}",
	"'; DROP TABLE dogs; --", "🦊🐕", "שלום", "a\x00b", "\xff\xfe", "line\r\nline", "2, 4, 8",
	"00000000-0000-7000-8000-000000000000", "../../etc/passwd", strings.Repeat("long ", 3000),
}

var inputName = regexp.MustCompile(`name="([a-z0-9_]+)"`)

// fine tells whether a status may come of anything that somebody sends.
func fine(status int) bool { return status < 500 || status == 503 || status == 507 }

// Whatever is posted to any form, nothing breaks: it is saved, or refused in words.
func TestNoFormBreaksAnything(t *testing.T) {
	o := practicetest.Demo(t)
	app, err := web.New(ctx, o.Practice, web.Options{Log: practicetest.Quiet()})
	require.NoError(t, err)
	var routes []string
	for _, r := range app.GetRoutes(true) {
		if r.Method == "POST" && !strings.HasPrefix(r.Path, "/api/") && !slices.Contains(routes, r.Path) {
			routes = append(routes, r.Path)
		}
	}
	require.Greater(t, len(routes), 40)
	slices.Sort(routes)
	s := serve(t, o)
	all := pages(t, o)
	var fields, ids []string
	for name, path := range all {
		if name == "pack" || name == "calendar" {
			continue
		}
		body := s.get(path).Body
		for _, part := range inputName.FindAllStringSubmatch(body, -1) {
			if !slices.Contains(fields, part[1]) && part[1] != "csrf" {
				fields = append(fields, part[1])
			}
		}
		for _, id := range regexp.MustCompile(`[0-9a-f]{8}-[0-9a-f-]{27}`).FindAllString(body, -1) {
			if !slices.Contains(ids, id) && len(ids) < 400 {
				ids = append(ids, id)
			}
		}
	}
	slices.Sort(fields)
	slices.Sort(ids)
	token := tokenField.FindStringSubmatch(s.get("/dogs/new").Body)[1]
	rng := rand.New(rand.NewPCG(8, 15))
	parameter := regexp.MustCompile(`:\w+`)
	values := append(slices.Clone(odd), ids...)
	for n := range asked("PATIENTFOX_FORMS", 300) {
		route := routes[n%len(routes)]
		path := parameter.ReplaceAllStringFunc(route, func(string) string {
			if rng.IntN(6) == 0 {
				return url.PathEscape(odd[rng.IntN(len(odd)-1)]) + "x"
			}
			return ids[rng.IntN(len(ids))]
		})
		shown := url.Values{"csrf": {token}}
		for range rng.IntN(25) {
			shown.Set(fields[rng.IntN(len(fields))], values[rng.IntN(len(values))])
		}
		a := s.do("POST", path, strings.NewReader(shown.Encode()), "Content-Type", "application/x-www-form-urlencoded", "Origin", s.base)
		require.True(t, fine(a.Status), "%d: %d of %s %s", n, a.Status, path, shown)
	}
	o.CatchUp(t)
	for name, path := range all {
		require.True(t, fine(s.get(path).Status), name)
	}
}

// Whatever events a device sends, every page is shown afterwards.
func TestNoEventBreaksAPage(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "2, 4, 8")
	s := serve(t, o)
	rng := rand.New(rand.NewPCG(23, 42))
	kinds := strings.Fields("cue mark release help trial exposure trigger line pay state count pause resume tally unlogged " +
		"verdict move note amend retract join align end food warmup turn recover pen block open unheard")
	values := []string{
		`null`, `1`, `-1`, `0.5`, `1e300`, `"met"`, `"x"`, `""`, `[]`, `{}`, `true`, `[1,"x",null]`, `{"id":"x"}`, `"set"`,
		`99999`,
	}
	known := strings.Fields("outcome latency_s held_s cues easy asked broke instead source after skill state recovery_s site " +
		"on m how taut block what pieces tier taken own reward answer n met late helped missed left advice deed rule reasons step " +
		"trial reads from to why new above text target set offset dev shift reason next pause dog place tags plan plan_version " +
		"definition reached mode end")
	for round := range asked("PATIENTFOX_SCENARIOS", 25) {
		h := o.Session(t, plan, session.Choice{})
		sessiontest.Hold(h, 1000, rng.IntN(7), 2000, work.Main)
		events := h.Events
		last := events[len(events)-1]
		for n := range 1 + rng.IntN(25) {
			data := map[string]json.RawMessage{}
			for range rng.IntN(6) {
				data[known[rng.IntN(len(known))]] = json.RawMessage(values[rng.IntN(len(values))])
			}
			if rng.IntN(3) == 0 {
				data["target"] = json.RawMessage(fmt.Sprintf("%q", events[rng.IntN(len(events))].ID))
				data["set"] = json.RawMessage(fmt.Sprintf(`{%q:%s}`, known[rng.IntN(len(known))], values[rng.IntN(len(values))]))
			}
			if rng.IntN(3) == 0 {
				data["plan"], data["reached"], data["block"] = json.RawMessage(fmt.Sprintf("%q", plan)), json.RawMessage(`"x"`),
					json.RawMessage(fmt.Sprintf("%q", events[rng.IntN(len(events))].ID))
			}
			raw, err := json.Marshal(data)
			require.NoError(t, err)
			events = append(events, record.Event{
				V: 1, ID: record.UUID(rng), Session: h.Session, Dev: []string{last.Dev, "helper"}[rng.IntN(2)],
				Seq: last.Seq + int64(n) + 1, T: last.T + int64(rng.IntN(9000)), Wall: last.Wall,
				Kind: record.Kind(kinds[rng.IntN(len(kinds))]), Data: raw,
			})
		}
		_, err := o.Receive(ctx, events)
		require.NoError(t, err)
		for _, path := range []string{
			"/", "/dogs", "/dogs/" + dog, "/dogs/" + dog + "/sessions", "/plans/" + plan, "/plans/" + plan + "/verdicts",
			"/plans/" + plan + "/progress", "/plans/" + plan + "/evidence", "/plans/" + plan + "/pay", "/plans/" + plan + "/history",
			"/week", "/settings", "/sessions/" + h.Session, "/sessions/" + h.Session + "/log",
			"/sessions/" + h.Session + "/trials.csv", "/api/field", "/api/packs/" + plan, "/api/sessions/" + h.Session,
			"/dogs/" + dog + "/food",
		} {
			a := s.get(path)
			require.True(t, fine(a.Status), "round %d: %d of %s", round, a.Status, path)
		}
		if round%40 == 39 { // pages over ever more sessions would be what takes the time
			o.Clock.Add(24 * 3600e9)
			plan, dog = o.LayOut(t, "2, 4, 8")
		}
	}
}
