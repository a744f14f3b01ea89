package ownca

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/tls"
	"crypto/x509"
	"testing"
	"time"

	"github.com/stretchr/testify/require"
)

// Forge makes a certificate for any name with an authority's key, as a thief would.
func Forge(t *testing.T, authority tls.Certificate, name string, now time.Time) tls.Certificate {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	require.NoError(t, err)
	template := &x509.Certificate{
		SerialNumber: serial(), DNSNames: []string{name}, NotBefore: now.Add(-time.Hour), NotAfter: now.Add(leafLife),
		KeyUsage: x509.KeyUsageDigitalSignature, ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
	}
	leaf, err := signed(template, authority.Leaf, &key.PublicKey, authority.PrivateKey.(*ecdsa.PrivateKey))
	require.NoError(t, err)
	return tls.Certificate{Certificate: [][]byte{leaf.Raw, authority.Leaf.Raw}, PrivateKey: key, Leaf: leaf}
}
