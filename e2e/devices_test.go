package e2e_test

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"fmt"
	"io"
	"math/big"
	"net"
	"net/http"
	"net/http/httptest"
	"net/url"
	"path/filepath"
	"runtime"
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
	for path, status := range map[string]int{
		"/": http.StatusSeeOther, "/plans/" + plan: http.StatusSeeOther, "/api/field": http.StatusUnauthorized,
		"/run": http.StatusOK, "/healthz": http.StatusOK,
	} {
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
	require.NoError(t, s.SetPassword(ctx, "", map[string]string{"person": me, "password": "kelp and rope", "again": "kelp and rope"}))
	laptop.Fill("#f-name", "trainer")
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
	phone.See("This device is not paired yet.")
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
	other.See("No device can come in by this code")
	other.Errors()
}

// Over a certificate made on the spot, which the phone was told to trust, a session is run without a signal as on the
// machine itself.
func TestAPhoneWorksWithoutASignalOverOurOwnCertificate(t *testing.T) {
	t.Parallel()
	o := practicetest.Empty(t)
	plan, dog := o.LayOut(t, "0.5, 1, 2")
	folder := t.TempDir()
	ca, err := ownca.Open(folder, ownca.OwnNames(), time.Now())
	require.NoError(t, err)
	trusting, err := browser.Trusting(t.TempDir(), ca.PEM)
	require.NoError(t, err)
	t.Cleanup(trusting.Close)

	s := &server{
		Opened: o, t: t, Addr: "127.0.0.1:0", With: web.Options{SignIn: true, CA: ca.PEM, Print: ca.Fingerprint()},
		TLS: &tls.Config{GetCertificate: ca.Source(ownca.OwnNames, time.Now), MinVersion: tls.VersionTLS12},
	}
	s.Start()
	t.Cleanup(s.Stop)
	people, err := s.Devices(ctx)
	require.NoError(t, err)
	require.NoError(t, s.SetPassword(ctx, "", map[string]string{
		"person": people.People[0].ID, "password": "kelp and rope", "again": "kelp and rope",
	}))
	p := s.pageOf(trusting, "https", browser.Phone)
	p.Go("/signin")
	require.True(t, browser.Get[bool](p, `document.querySelector("[data-plain]").hidden`), "nothing stands against work without a signal")
	p.See(ca.Fingerprint())
	p.Fill("#f-name", "Trainer")
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

// A browser that trusts the practice's root takes it for no other site's, whoever holds what is kept on the machine.
func TestTheAuthorityIsTrustedForNoOtherSite(t *testing.T) {
	t.Parallel()
	folder := t.TempDir()
	ca, err := ownca.Open(folder, []string{"localhost"}, time.Now())
	require.NoError(t, err)
	trusting, err := browser.Trusting(t.TempDir(), ca.PEM)
	require.NoError(t, err)
	t.Cleanup(trusting.Close)
	stolen, err := tls.LoadX509KeyPair(filepath.Join(folder, "intermediate.pem"), filepath.Join(folder, "intermediate.key"))
	require.NoError(t, err)
	for name, trusted := range map[string]bool{"127.0.0.1": true, "bank.localtest": false} {
		leaf := forged(t, stolen, name)
		server := httptest.NewUnstartedServer(http.HandlerFunc(func(w http.ResponseWriter, _ *http.Request) {
			_, _ = io.WriteString(w, "<p>here it is</p>")
		}))
		server.TLS = &tls.Config{Certificates: []tls.Certificate{leaf}}
		server.StartTLS()
		t.Cleanup(server.Close)
		said := ""
		p := trusting.Page("https://"+net.JoinHostPort(name, port(t, server.URL)), browser.Laptop,
			func(format string, args ...any) { said = fmt.Sprintf(format, args...); runtime.Goexit() })
		t.Cleanup(p.Close)
		done := make(chan struct{})
		go func() {
			defer close(done)
			p.Go("/")
			p.See("here it is")
		}()
		<-done
		if trusted {
			require.Empty(t, said, name)
		} else {
			require.Contains(t, said, "ERR_CERT", name)
		}
	}
}

func port(t *testing.T, address string) string {
	u, err := url.Parse(address)
	require.NoError(t, err)
	return u.Port()
}

// forged makes a certificate for any name with an authority's key, as a thief would.
func forged(t *testing.T, authority tls.Certificate, name string) tls.Certificate {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	template := &x509.Certificate{
		SerialNumber: big.NewInt(time.Now().UnixNano()), NotBefore: time.Now().Add(-time.Hour), NotAfter: time.Now().Add(24 * time.Hour),
		KeyUsage: x509.KeyUsageDigitalSignature, ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
	}
	if ip := net.ParseIP(name); ip != nil {
		template.IPAddresses = []net.IP{ip}
	} else {
		template.DNSNames = []string{name}
	}
	der, err := x509.CreateCertificate(rand.Reader, template, authority.Leaf, &key.PublicKey, authority.PrivateKey)
	require.NoError(t, err)
	return tls.Certificate{Certificate: [][]byte{der, authority.Leaf.Raw}, PrivateKey: key}
}
