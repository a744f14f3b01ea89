package practice_test

import (
	"errors"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/core/pack"
	"patientfox/core/record"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/people"
	"patientfox/internal/practicetest"
	"patientfox/internal/sessiontest"
)

// take lets a device in by a code, as a browser does that opens its link.
func take(o *practicetest.Opened, code, name string) (cookie string, err error) {
	claim, err := o.ClaimCode(ctx, "192.168.1.7", code)
	if err != nil {
		return "", err
	}
	return o.TakeClaim(ctx, claim, name)
}

// A code lets one device in, once and within ten minutes; however it is written down. Whoever opens its link first has it.
func TestACodeLetsOneDeviceInOnce(t *testing.T) {
	o := practicetest.Empty(t)
	v, err := o.Devices(ctx)
	require.NoError(t, err)
	me := v.People[0].ID
	_, err = o.Pair(ctx, form.Typed{"person": "nobody"})
	invalid(t, err, "pair_person")
	code, err := o.Pair(ctx, form.Typed{"person": me})
	require.NoError(t, err)
	typed := strings.ToLower(code[:4] + "-" + code[4:8] + " " + code[8:])
	claim, err := o.ClaimCode(ctx, "192.168.1.7", typed)
	require.NoError(t, err)
	_, err = o.ClaimCode(ctx, "192.168.1.8", code)
	require.ErrorIs(t, err, app.ErrNotFound, "it was opened")
	_, err = o.Claimed(ctx, code)
	require.ErrorIs(t, err, app.ErrNotFound, "the code itself lets nobody in")
	who, err := o.Claimed(ctx, claim)
	require.NoError(t, err)
	require.Equal(t, me, who.ID)
	cookie, err := o.TakeClaim(ctx, claim, "  ")
	require.NoError(t, err)
	_, err = o.TakeClaim(ctx, claim, "a second one")
	require.ErrorIs(t, err, app.ErrNotFound)
	person, _, err := o.SignedIn(ctx, cookie)
	require.NoError(t, err)
	require.Equal(t, me, person)
	for _, wrong := range []string{"", "x", cookie + "x", code, claim} {
		person, _, err := o.SignedIn(ctx, wrong)
		require.NoError(t, err)
		require.Empty(t, person, wrong)
	}
	v, err = o.Devices(ctx)
	require.NoError(t, err)
	require.Equal(t, "A device", v.Devices[0].Name)
	require.NoError(t, o.SignOut(ctx, v.Devices[0].ID))
	require.ErrorIs(t, o.SignOut(ctx, v.Devices[0].ID), app.ErrNotFound)
	person, _, err = o.SignedIn(ctx, cookie)
	require.NoError(t, err)
	require.Empty(t, person, "put out")

	late, err := o.Pair(ctx, form.Typed{"person": me})
	require.NoError(t, err)
	o.Clock.Add(11 * time.Minute)
	_, err = take(o, late, "")
	require.ErrorIs(t, err, app.ErrNotFound)
}

// A device that nobody uses for half a year is signed out by itself; one that is used is not.
func TestUnusedDevicesExpire(t *testing.T) {
	o := practicetest.Empty(t)
	v, err := o.Devices(ctx)
	require.NoError(t, err)
	cookies := map[string]string{}
	for _, name := range []string{"used", "unused"} {
		code, err := o.Pair(ctx, form.Typed{"person": v.People[0].ID})
		require.NoError(t, err)
		cookies[name], err = take(o, code, name)
		require.NoError(t, err)
	}
	for range 7 {
		o.Clock.Add(30 * 24 * time.Hour)
		person, _, err := o.SignedIn(ctx, cookies["used"])
		require.NoError(t, err)
		require.NotEmpty(t, person)
	}
	person, _, err := o.SignedIn(ctx, cookies["unused"])
	require.NoError(t, err)
	require.Empty(t, person)
	v, err = o.Devices(ctx)
	require.NoError(t, err)
	require.Len(t, v.Devices, 1)
}

// Whoever tries again and again waits longer each time, from one address or at one name; others do not.
func TestTriesWaitLongerEachTime(t *testing.T) {
	o := practicetest.Empty(t)
	try := func(from, name string) time.Duration {
		_, err := o.SignIn(ctx, from, form.Typed{"name": name, "password": "never the right one"})
		var soon *people.TooSoon
		if errors.As(err, &soon) {
			return soon.Wait
		}
		invalid(t, err, "password")
		return 0
	}
	for range 5 {
		require.Zero(t, try("192.168.1.7", "Trainer"))
	}
	require.Equal(t, time.Second, try("192.168.1.7", "Somebody"), "from one address")
	require.Equal(t, time.Second, try("192.168.1.9", "trainer"), "at one name")
	require.Zero(t, try("192.168.1.9", "Somebody"))
	longest := time.Duration(0)
	for range 20 {
		o.Clock.Add(20 * time.Minute)
		require.Zero(t, try("192.168.1.7", "Trainer"))
		longest = max(longest, try("192.168.1.7", "Trainer"))
	}
	require.Equal(t, 15*time.Minute, longest)
	for range 5 {
		_, err := o.ClaimCode(ctx, "192.168.1.20", "AAAA-BBBB-CCCC-DDDD")
		require.ErrorIs(t, err, app.ErrNotFound)
	}
	_, err := o.ClaimCode(ctx, "192.168.1.20", "AAAA-BBBB-CCCC-DDDD")
	var soon *people.TooSoon
	require.ErrorAs(t, err, &soon, "codes too")
}

func TestPasswordsAreLongAndKeptAsHashes(t *testing.T) {
	o := practicetest.Empty(t)
	v, err := o.Devices(ctx)
	require.NoError(t, err)
	me := v.People[0].ID
	set := func(cookie string, t form.Typed) error {
		t["person"] = me
		if t["again"] == "" {
			t["again"] = t["password"]
		}
		return o.SetPassword(ctx, cookie, t)
	}
	for _, bad := range []string{
		"short", "eleven char", strings.Repeat("é", 40), "password1234", "qwertyuiop12", "123456789012", "patientfox12",
		"aaaaaaaaaaaaaaa", "trainertrainer",
	} {
		invalid(t, set("", form.Typed{"password": bad}), "password")
	}
	invalid(t, set("", form.Typed{"password": "kelp and rope", "again": "kelp and rape"}), "again")
	sign := func(password string) (string, error) {
		return o.SignIn(ctx, "192.168.1.7", form.Typed{"name": " trainer ", "password": password, "device": strings.Repeat("🦊", 90)})
	}
	_, err = sign("kelp and rope")
	invalid(t, err, "password")
	require.NoError(t, set("", form.Typed{"password": "kelp and rope"}))
	_, err = sign("Kelp and rope")
	invalid(t, err, "password")
	cookie, err := sign("kelp and rope")
	require.NoError(t, err)
	require.Len(t, cookie, 43)
	hash, err := o.Store.Read().Login(ctx, me)
	require.NoError(t, err)
	require.NotContains(t, hash, "kelp")
	// Another one asks for the old one, and signs the other devices out.
	other, err := sign("kelp and rope")
	require.NoError(t, err)
	invalid(t, set(cookie, form.Typed{"password": "gulls over tar"}), "old")
	require.NoError(t, set(cookie, form.Typed{"password": "gulls over tar", "old": "kelp and rope"}))
	for one, there := range map[string]bool{cookie: true, other: false} {
		person, _, err := o.SignedIn(ctx, one)
		require.NoError(t, err)
		require.Equal(t, there, person != "")
	}
	there, err := o.ForgetPassword(ctx, "trainer")
	require.NoError(t, err)
	require.True(t, there)
	person, _, err := o.SignedIn(ctx, cookie)
	require.NoError(t, err)
	require.Empty(t, person)
	there, err = o.ForgetPassword(ctx, "trainer")
	require.NoError(t, err)
	require.False(t, there)
}

// The day's field pack holds what Today shows; what was put away is not in it, nor a session that was begun.
func TestTheFieldPackIsTheDay(t *testing.T) {
	o := practicetest.Demo(t)
	f, err := o.Field(ctx)
	require.NoError(t, err)
	require.Equal(t, "2026-11-23", f.Day)
	require.NotEmpty(t, f.Sheets)
	plans := map[string]pack.Pack{}
	for _, p := range f.Packs {
		require.NotEmpty(t, p.Zone)
		require.True(t, p.First || p.LastDay != "")
		_, err := session.Open(p)
		require.NoError(t, err)
		plans[p.Plan] = p
	}
	today, err := o.Today(ctx)
	require.NoError(t, err)
	for _, row := range today.Next {
		require.Contains(t, plans, row.ID)
	}
	for _, s := range f.Sheets {
		for _, b := range s.Plan.Blocks {
			require.Contains(t, plans, b.Plan)
		}
	}
	require.LessOrEqual(t, len(f.Packs), 60)
}

// A second device gets the session's clock, its packs and its log from where it left off.
func TestASecondDeviceIsTakenIn(t *testing.T) {
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "2, 4")
	h := o.Session(t, plan, session.Choice{})
	_, err := o.Join(ctx, h.Session)
	require.ErrorIs(t, err, app.ErrNotFound)
	since, err := o.EventsSince(ctx, h.Session, 0)
	require.NoError(t, err)
	require.Empty(t, since.Events, "nothing has come yet")
	_, err = o.Receive(ctx, h.Events)
	require.NoError(t, err)
	o.Clock.Add(20 * time.Second)
	sessiontest.Hold(h, 17000, 1, 2000, work.Main)
	_, err = o.Receive(ctx, h.Events)
	require.NoError(t, err)
	j, err := o.Join(ctx, h.Session)
	require.NoError(t, err)
	require.Equal(t, "Tansy", j.Dog)
	require.Equal(t, plan, j.Packs[0].Plan)
	require.Equal(t, practicetest.Now.UnixMilli(), j.Zero)
	require.Equal(t, int64(20000), j.Now-j.Zero)
	all, err := o.EventsSince(ctx, h.Session, 0)
	require.NoError(t, err)
	require.Len(t, all.Events, len(h.Events))
	rest, err := o.EventsSince(ctx, h.Session, all.At)
	require.NoError(t, err)
	require.Empty(t, rest.Events)
	require.Equal(t, all.At, rest.At)
	other := &session.Hand{Run: h.Run, Session: h.Session, Dev: "helper", By: "helper", NewID: app.NewID}
	other.Do(20000, []record.Draft{record.NewDraft(record.KTrial, record.TrialData{Outcome: "missed"})})
	_, err = o.Receive(ctx, other.Events)
	require.NoError(t, err)
	rest, err = o.EventsSince(ctx, h.Session, all.At)
	require.NoError(t, err)
	require.Len(t, rest.Events, 1)
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, 1, v.Evidence.N, "a helper's trial counts when it is accepted")
	require.NoError(t, o.DeleteSession(ctx, h.Session, true))
	_, err = o.Join(ctx, h.Session)
	require.ErrorIs(t, err, app.ErrNotFound)
}
