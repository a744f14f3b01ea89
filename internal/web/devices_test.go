package web_test

import (
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
	"patientfox/internal/web"
)

func TestADeviceComesInByACodeOnce(t *testing.T) {
	o := practicetest.Empty(t)
	require.NoError(t, o.SavePerson(ctx, form.Typed{"name": "Jorun Vale", "role": "trainer", "owner": "1"}))
	s := serveAs(t, o, web.Options{SignIn: true})
	away := s.get("/")
	require.Equal(t, 303, away.Status)
	require.Equal(t, "/signin", away.Header.Get("Location"))
	require.NotContains(t, s.get("/signin").Body, "Jorun", "it names nobody")
	require.Equal(t, 404, s.post("/signin", "/signin", map[string]string{"code": "AAAA-BBBB-CCCC-DDDD"}).Status)

	view, err := o.Devices(ctx)
	require.NoError(t, err)
	code, err := o.Pair(ctx, form.Typed{"person": view.People[len(view.People)-1].ID})
	require.NoError(t, err)
	claimed := s.post("/signin", "/signin", map[string]string{"code": strings.ToLower(code[:4] + " " + code[4:])})
	require.Equal(t, 303, claimed.Status)
	require.Equal(t, "/pair", claimed.Header.Get("Location"))
	require.Equal(t, 404, s.another().get("/pair/"+code).Status, "it is gone for every other browser")
	require.Contains(t, s.get("/pair").Body, "<bdi>Jorun Vale</bdi>")
	in := s.post("/pair", "/pair", map[string]string{"device": `Jorun’s <b>"old"</b> phone`})
	require.Equal(t, 303, in.Status)
	require.Equal(t, 200, s.get("/").Status)
	list := s.get("/devices").Body
	require.Contains(t, list, "Jorun’s &lt;b&gt;&#34;old&#34;&lt;/b&gt; phone")
	require.NotContains(t, list, "<b>")

	devices, err := o.Devices(ctx)
	require.NoError(t, err)
	require.Len(t, devices.Devices, 1)
	require.Equal(t, 303, s.post("/devices", "/devices/"+devices.Devices[0].ID+"/out", nil).Status)
	require.Equal(t, 303, s.get("/").Status, "signed out")
}

func TestAPasswordIsSetTypedAndNeverShown(t *testing.T) {
	o := practicetest.Empty(t)
	view, err := o.Devices(ctx)
	require.NoError(t, err)
	person := view.People[0]
	home := serve(t, o)
	set := func(password, again string) answer {
		return home.post("/devices", "/devices/password", map[string]string{"person": person.ID, "password": password, "again": again})
	}
	short := set("short", "short")
	require.Equal(t, 422, short.Status)
	require.NotContains(t, short.Body, `value="short"`)
	require.Equal(t, 422, set("password1234", "password1234").Status, "one that everybody guesses")
	require.Equal(t, 422, set("harbour gulls eat chips", "harbour gulls eat chip").Status)
	require.Equal(t, 303, set("harbour gulls eat chips", "harbour gulls eat chips").Status)

	s := serveAs(t, o, web.Options{SignIn: true})
	wrong := s.post("/signin", "/signin", map[string]string{"name": person.Name, "password": "harbour gulls eat fish"})
	require.Equal(t, 422, wrong.Status)
	require.NotContains(t, wrong.Body, "eat fish")
	nobody := s.post("/signin", "/signin", map[string]string{"name": "Nobody at all", "password": "harbour gulls eat fish"})
	require.Equal(t, 422, nobody.Status, "the same as for a name that there is")
	o.Clock.Add(time.Minute)
	require.Equal(t, 303, s.post("/signin", "/signin", map[string]string{"name": person.Name, "password": "harbour gulls eat chips"}).Status)
	require.Equal(t, 200, s.get("/dogs").Status)
}

// Whoever goes on trying waits longer each time, and is told how long.
func TestTriesAreBounded(t *testing.T) {
	o := practicetest.Empty(t)
	s := serveAs(t, o, web.Options{SignIn: true})
	for range 20 {
		if a := s.post("/signin", "/signin", map[string]string{"code": "AAAABBBBCCCCDDDD"}); a.Status == 429 {
			require.NotEmpty(t, a.Header.Get("Retry-After"))
			require.Contains(t, a.Body, "Too many tries")
			return
		}
	}
	t.Fatal("twenty tries in a row were answered")
}
