// Package ownca makes certificates on the spot: one of the practice's own that a phone is told once to trust, and
// from it one for the server under each name by which it is reached.
package ownca

import (
	"crypto/ecdsa"
	"crypto/elliptic"
	"crypto/rand"
	"crypto/sha256"
	"crypto/tls"
	"crypto/x509"
	"crypto/x509/pkix"
	"encoding/pem"
	"errors"
	"fmt"
	"io/fs"
	"math/big"
	"net"
	"os"
	"path/filepath"
	"strings"
	"time"
)

// Lives of the certificates. Phones refuse server certificates that live longer than 398 days.
const (
	caLife   = 10 * 365 * 24 * time.Hour
	leafLife = 390 * 24 * time.Hour
)

// CA is the practice's own certificate.
type CA struct {
	PEM  []byte
	cert *x509.Certificate
	key  *ecdsa.PrivateKey
}

// Open reads the certificate kept in a folder, or makes one and keeps it there, readable for its owner alone.
func Open(folder string, now time.Time) (*CA, error) {
	certFile, keyFile := filepath.Join(folder, "ca.pem"), filepath.Join(folder, "ca.key")
	certPEM, err := os.ReadFile(certFile)
	if errors.Is(err, fs.ErrNotExist) {
		return makeCA(folder, certFile, keyFile, now)
	}
	if err != nil {
		return nil, err
	}
	keyPEM, err := os.ReadFile(keyFile)
	if err != nil {
		return nil, err
	}
	pair, err := tls.X509KeyPair(certPEM, keyPEM)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", folder, err)
	}
	key, ok := pair.PrivateKey.(*ecdsa.PrivateKey)
	if !ok {
		return nil, fmt.Errorf("%s: not a key of ours", keyFile)
	}
	if pair.Leaf.NotAfter.Before(now.Add(leafLife)) {
		return makeCA(folder, certFile, keyFile, now)
	}
	return &CA{certPEM, pair.Leaf, key}, nil
}

func makeCA(folder, certFile, keyFile string, now time.Time) (*CA, error) {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return nil, err
	}
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, err
	}
	template := &x509.Certificate{
		SerialNumber: serial(), Subject: pkix.Name{CommonName: "Patient Fox, this practice's own"},
		NotBefore: now.Add(-24 * time.Hour), NotAfter: now.Add(caLife), IsCA: true, BasicConstraintsValid: true, MaxPathLenZero: true,
		KeyUsage: x509.KeyUsageCertSign | x509.KeyUsageCRLSign,
	}
	der, err := x509.CreateCertificate(rand.Reader, template, template, &key.PublicKey, key)
	if err != nil {
		return nil, err
	}
	cert, err := x509.ParseCertificate(der)
	if err != nil {
		return nil, err
	}
	raw, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		return nil, err
	}
	ca := &CA{pem.EncodeToMemory(&pem.Block{Type: "CERTIFICATE", Bytes: der}), cert, key}
	return ca, errors.Join(
		os.WriteFile(keyFile, pem.EncodeToMemory(&pem.Block{Type: "PRIVATE KEY", Bytes: raw}), 0o600),
		os.WriteFile(certFile, ca.PEM, 0o600),
	)
}

func serial() *big.Int {
	n, err := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 120))
	if err != nil {
		panic(err) // never fails
	}
	return n
}

// Fingerprint is the certificate's SHA-256, to be compared by eye.
func (ca *CA) Fingerprint() string {
	sum := sha256.Sum256(ca.cert.Raw)
	parts := make([]string, len(sum))
	for i, b := range sum {
		parts[i] = fmt.Sprintf("%02X", b)
	}
	return strings.Join(parts, ":")
}

// Certificate makes one for a server under these names and addresses.
func (ca *CA) Certificate(names []string, now time.Time) (tls.Certificate, error) {
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return tls.Certificate{}, err
	}
	template := &x509.Certificate{
		SerialNumber: serial(), Subject: pkix.Name{CommonName: "Patient Fox"}, NotBefore: now.Add(-time.Hour), NotAfter: now.Add(leafLife),
		KeyUsage: x509.KeyUsageDigitalSignature, ExtKeyUsage: []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth},
	}
	for _, name := range names {
		if ip := net.ParseIP(name); ip != nil {
			template.IPAddresses = append(template.IPAddresses, ip)
		} else {
			template.DNSNames = append(template.DNSNames, name)
		}
	}
	der, err := x509.CreateCertificate(rand.Reader, template, ca.cert, &key.PublicKey, ca.key)
	return tls.Certificate{Certificate: [][]byte{der, ca.cert.Raw}, PrivateKey: key}, err
}

// OwnNames are the names and addresses under which this machine may be reached.
func OwnNames() []string {
	names := []string{"localhost", "127.0.0.1", "::1"}
	if host, err := os.Hostname(); err == nil && host != "" {
		names = append(names, host)
		if !strings.Contains(host, ".") {
			names = append(names, host+".local")
		}
	}
	addresses, err := net.InterfaceAddrs()
	if err != nil {
		return names
	}
	for _, one := range addresses {
		if ip, ok := one.(*net.IPNet); ok && !ip.IP.IsLoopback() && !ip.IP.IsLinkLocalUnicast() {
			names = append(names, ip.IP.String())
		}
	}
	return names
}
