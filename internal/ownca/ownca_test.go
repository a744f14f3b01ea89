package ownca_test

import (
	"crypto/tls"
	"crypto/x509"
	"net"
	"os"
	"path/filepath"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/internal/ownca"
)

// dial asks a server that shows a certificate, by a name, as a phone that trusts only one root.
func dial(t *testing.T, cert tls.Certificate, root []byte, name string) error {
	t.Helper()
	listener, err := tls.Listen("tcp", "127.0.0.1:0", &tls.Config{Certificates: []tls.Certificate{cert}})
	require.NoError(t, err)
	defer listener.Close()
	go func() {
		if c, err := listener.Accept(); err == nil {
			_ = c.(*tls.Conn).Handshake()
			c.Close()
		}
	}()
	trusted := x509.NewCertPool()
	require.True(t, trusted.AppendCertsFromPEM(root))
	raw, err := net.Dial("tcp", listener.Addr().String())
	require.NoError(t, err)
	defer raw.Close()
	return tls.Client(raw, &tls.Config{RootCAs: trusted, ServerName: name}).Handshake()
}

// A phone that trusts the practice's root trusts the server under its names, after a restart too, and nobody else.
func TestOneCertificateIsTrustedForAllNames(t *testing.T) {
	folder, now := filepath.Join(t.TempDir(), "tls"), time.Now()
	names := append(ownca.OwnNames(), "kittiwake.test")
	ca, err := ownca.Open(folder, names, now)
	require.NoError(t, err)
	require.True(t, ca.New)
	again, err := ownca.Open(folder, names, now)
	require.NoError(t, err)
	require.False(t, again.New)
	require.Equal(t, ca.Fingerprint(), again.Fingerprint())
	require.Len(t, ca.Fingerprint(), 95)
	for _, name := range []string{"root.pem", "intermediate.pem", "intermediate.key"} {
		info, err := os.Stat(filepath.Join(folder, name))
		require.NoError(t, err)
		require.Equal(t, os.FileMode(0o600), info.Mode().Perm(), name)
	}
	cert, err := again.Certificate(names, now)
	require.NoError(t, err)
	for name, ok := range map[string]bool{"127.0.0.1": true, "kittiwake.test": true, "elsewhere.test": false} {
		require.Equal(t, ok, dial(t, cert, ca.PEM, name) == nil, name)
	}
}

// The authority cannot speak for any other site: a name outside is left out of its certificates, and one that is forced in is
// trusted by nobody. The next Wi-Fi's addresses are inside.
func TestTheAuthoritySpeaksForNoOtherSite(t *testing.T) {
	folder, now := t.TempDir(), time.Now()
	ca, err := ownca.Open(folder, []string{"quay", "quay.local", "localhost"}, now)
	require.NoError(t, err)
	cert, err := ca.Certificate([]string{"quay", "bank.example", "192.168.7.9", "8.8.8.8", "10.1.2.3"}, now)
	require.NoError(t, err)
	require.Equal(t, []string{"quay"}, cert.Leaf.DNSNames)
	require.Len(t, cert.Leaf.IPAddresses, 2)
	require.LessOrEqual(t, cert.Leaf.NotAfter.Sub(now), 31*24*time.Hour)
	require.NoError(t, dial(t, cert, ca.PEM, "quay"))
	// With the stolen key of the intermediate.
	pair, err := tls.LoadX509KeyPair(filepath.Join(folder, "intermediate.pem"), filepath.Join(folder, "intermediate.key"))
	require.NoError(t, err)
	forged := ownca.Forge(t, pair, "bank.example", now)
	require.ErrorContains(t, dial(t, forged, ca.PEM, "bank.example"), "not permitted")
	require.True(t, pair.Leaf.PermittedDNSDomainsCritical)
	require.ElementsMatch(t, []string{"intermediate.key", "intermediate.pem", "root.pem"}, filesIn(t, folder),
		"the root's key is kept nowhere")
}

func filesIn(t *testing.T, folder string) (names []string) {
	entries, err := os.ReadDir(folder)
	require.NoError(t, err)
	for _, e := range entries {
		names = append(names, e.Name())
	}
	return names
}

// One that is near its end, or of the kind that could speak for any site, is made anew.
func TestACertificateNearItsEndIsMadeAnew(t *testing.T) {
	folder, now := t.TempDir(), time.Now()
	old, err := ownca.Open(folder, nil, now)
	require.NoError(t, err)
	later, err := ownca.Open(folder, nil, now.AddDate(9, 6, 0))
	require.NoError(t, err)
	require.NotEqual(t, old.Fingerprint(), later.Fingerprint())

	first := t.TempDir()
	for _, name := range []string{"ca.pem", "ca.key"} {
		require.NoError(t, os.WriteFile(filepath.Join(first, name), []byte("of the first kind"), 0o600))
	}
	made, err := ownca.Open(first, nil, now)
	require.NoError(t, err)
	require.True(t, made.New)
	require.NotContains(t, filesIn(t, first), "ca.key")
}

// A server goes on with certificates before they end, and takes up an address that came later.
func TestCertificatesAreRenewedWhileTheServerRuns(t *testing.T) {
	now := time.Now()
	ca, err := ownca.Open(t.TempDir(), []string{"quay"}, now)
	require.NoError(t, err)
	names := []string{"quay"}
	at := now
	source := ca.Source(func() []string { return names }, func() time.Time { return at })
	first, err := source(nil)
	require.NoError(t, err)
	same, err := source(nil)
	require.NoError(t, err)
	require.Equal(t, first.Leaf.SerialNumber, same.Leaf.SerialNumber)
	names = []string{"quay", "192.168.1.4"}
	at = at.Add(2 * time.Hour)
	wider, err := source(nil)
	require.NoError(t, err)
	require.Len(t, wider.Leaf.IPAddresses, 1)
	at = at.Add(25 * 24 * time.Hour)
	later, err := source(nil)
	require.NoError(t, err)
	require.True(t, later.Leaf.NotAfter.After(at.Add(20*24*time.Hour)))
}
