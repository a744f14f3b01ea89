package e2e_test

import (
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"encoding/base64"
	"io"
	"net/http"
	"strings"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/e2e/browser"
	"patientfox/internal/ownca"
	"patientfox/internal/practicetest"
	"patientfox/internal/web"
)

// outside is an address of this machine that is no loopback one.
func outside(t *testing.T) string {
	t.Helper()
	for _, name := range ownca.OwnNames() {
		if strings.Count(name, ".") == 3 && !strings.HasPrefix(name, "127.") {
			return name
		}
	}
	t.Fatal("this machine has no address but its own")
	return ""
}

// From another machine nobody comes in but by a code or a password; a device that was let in logs as its person, and
// one that was put out keeps what it has.
func TestAPhoneIsLetInByACodeAndPutOutAgain(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	plan, _ := o.LayOut(t, "0.5, 1, 2")
	s := serveAt(t, o, outside(t)+":0", web.Options{SignIn: true})
	for path, status := range map[string]int{"/": http.StatusSeeOther, "/plans/" + plan: http.StatusSeeOther, "/api/field": http.StatusUnauthorized, "/run": http.StatusOK, "/healthz": http.StatusOK} {
		client := http.Client{CheckRedirect: func(*http.Request, []*http.Request) error { return http.ErrUseLastResponse }}
		answer, err := client.Get("http://" + s.Addr + path)
		require.NoError(t, err)
		body, err := io.ReadAll(answer.Body)
		require.NoError(t, err)
		answer.Body.Close()
		require.Equal(t, status, answer.StatusCode, path)
		require.NotContains(t, string(body), "Tansy", path)
	}

	laptop := s.Page(browser.Laptop)
	laptop.Go("/signin")
	laptop.Fill("#f-password", "not the one")
	laptop.Eval(`document.querySelector('form:has(#f-password)').requestSubmit()`)
	laptop.See("That password does not fit this name.")
	laptop.Errors() // the browser notes the 422
	people, err := s.Devices(ctx)
	require.NoError(t, err)
	me := people.People[0].ID
	require.NoError(t, s.SetPassword(ctx, map[string]string{"person": me, "password": "kelp and rope", "again": "kelp and rope"}))
	laptop.Choose("#f-person", "Trainer")
	laptop.Fill("#f-password", "kelp and rope")
	laptop.Follow(`form:has(#f-password) button`)
	laptop.See("Tansy")
	laptop.See("refuses to work without a signal")
	laptop.Go("/devices")
	require.NotEmpty(t, browser.Get[string](laptop, `document.querySelector("#pair select").value`))
	laptop.Follow("#pair button")
	laptop.See("Photograph this")
	axe(t, laptop, "devices")
	link := browser.Get[string](laptop, `document.querySelector('#pair a.link').getAttribute("href")`)
	clean(t, laptop)

	phone := s.Page(browser.Phone)
	phone.Go("/")
	phone.See("This machine is not let in yet.")
	axe(t, phone, "signing in")
	phone.Go(link[strings.Index(link, "/pair/"):])
	phone.See("Let this device in as Trainer?")
	phone.Fill("#f-device", "Maren's phone")
	phone.Follow("button.main")
	phone.See("Tansy")
	begin(phone, plan, "")
	hold(phone)
	saved(phone)

	laptop.Go("/devices")
	laptop.See("Maren's phone")
	laptop.Follow(`[aria-label="Sign out Maren's phone"]`)
	hold(phone)
	phone.See("The server does not take it (401)")
	require.NotEqual(t, "0", browser.Get[string](phone, `document.getElementById("run").dataset.waiting`))
	phone.Errors()

	other := s.Page(browser.Phone)
	other.Go(link[strings.Index(link, "/pair/"):])
	other.See("This code was used")
	other.Errors()
}

// Over a certificate made on the spot, which the phone was told to trust, a session is run without a signal as on the
// machine itself.
func TestAPhoneWorksWithoutASignalOverOurOwnCertificate(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "0.5, 1, 2")
	ca, err := ownca.Open(t.TempDir(), time.Now())
	require.NoError(t, err)
	cert, err := ca.Certificate(ownca.OwnNames(), time.Now())
	require.NoError(t, err)
	leaf, err := x509.ParseCertificate(cert.Certificate[0])
	require.NoError(t, err)
	key := sha256.Sum256(leaf.RawSubjectPublicKeyInfo)
	trusting, err := browser.Start(base64.StdEncoding.EncodeToString(key[:]))
	require.NoError(t, err)
	t.Cleanup(trusting.Close)

	s := &server{Opened: o, t: t, Addr: outside(t) + ":0", With: web.Options{SignIn: true, CA: ca.PEM}, TLS: &tls.Config{Certificates: []tls.Certificate{cert}, MinVersion: tls.VersionTLS12}}
	s.Start()
	t.Cleanup(s.Stop)
	people, err := s.Devices(ctx)
	require.NoError(t, err)
	require.NoError(t, s.SetPassword(ctx, map[string]string{"person": people.People[0].ID, "password": "kelp and rope", "again": "kelp and rope"}))
	p := s.pageOf(trusting, "https", browser.Phone)
	p.Go("/signin")
	require.True(t, browser.Get[bool](p, `document.querySelector("[data-plain]").hidden`), "nothing stands against work without a signal")
	p.Choose("#f-person", "Trainer")
	p.Fill("#f-password", "kelp and rope")
	p.Follow(`form:has(#f-password) button`)
	carry(p)
	s.Stop()
	begin(p, plan, "")
	hold(p)
	ends(p)
	p.Errors()
	s.Start()
	saved(p)
	s.CatchUp(t)
	v, err := s.Sessions(ctx, dog, "")
	require.NoError(t, err)
	require.Len(t, v.Sessions, 1)
}
