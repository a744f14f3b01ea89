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

// A phone that trusts the practice's certificate trusts the server under its names, after a restart too.
func TestOneCertificateIsTrustedForAllNames(t *testing.T) {
	folder, now := filepath.Join(t.TempDir(), "tls"), time.Now()
	ca, err := ownca.Open(folder, now)
	require.NoError(t, err)
	again, err := ownca.Open(folder, now)
	require.NoError(t, err)
	require.Equal(t, ca.Fingerprint(), again.Fingerprint())
	require.Len(t, ca.Fingerprint(), 95)
	info, err := os.Stat(filepath.Join(folder, "ca.key"))
	require.NoError(t, err)
	require.Equal(t, os.FileMode(0o600), info.Mode().Perm())

	cert, err := again.Certificate(append(ownca.OwnNames(), "kittiwake.test"), now)
	require.NoError(t, err)
	listener, err := tls.Listen("tcp", "127.0.0.1:0", &tls.Config{Certificates: []tls.Certificate{cert}})
	require.NoError(t, err)
	defer listener.Close()
	go func() {
		for {
			c, err := listener.Accept()
			if err != nil {
				return
			}
			_ = c.(*tls.Conn).Handshake()
			c.Close()
		}
	}()
	trusted := x509.NewCertPool()
	require.True(t, trusted.AppendCertsFromPEM(ca.PEM))
	for name, ok := range map[string]bool{"127.0.0.1": true, "kittiwake.test": true, "elsewhere.test": false} {
		raw, err := net.Dial("tcp", listener.Addr().String())
		require.NoError(t, err)
		err = tls.Client(raw, &tls.Config{RootCAs: trusted, ServerName: name}).Handshake()
		require.Equal(t, ok, err == nil, "%s: %v", name, err)
		raw.Close()
	}
}

// One that is near its end is made anew, so that no phone finds it expired.
func TestACertificateNearItsEndIsMadeAnew(t *testing.T) {
	folder, now := t.TempDir(), time.Now()
	old, err := ownca.Open(folder, now)
	require.NoError(t, err)
	later, err := ownca.Open(folder, now.AddDate(9, 6, 0))
	require.NoError(t, err)
	require.NotEqual(t, old.Fingerprint(), later.Fingerprint())
}
