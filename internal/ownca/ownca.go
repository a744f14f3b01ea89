// Package ownca makes certificates on the spot. A root that a phone is told once to trust signs one intermediate, and its
// key is thrown away; the intermediate, which can speak for this machine's names and for addresses of private networks alone,
// signs short-lived ones for the server. Who steals what is kept here cannot speak for any other site.
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
	"slices"
	"strings"
	"sync"
	"time"
)

// Lives of the certificates.
const (
	caLife    = 10 * 365 * 24 * time.Hour
	leafLife  = 30 * 24 * time.Hour
	leafRenew = 10 * 24 * time.Hour // before its end
	lookAgain = time.Hour           // for other names and addresses of this machine
)

// CA is the practice's own authority. It is safe for concurrent use.
type CA struct {
	PEM  []byte // the root, for phones
	New  bool   // it was made just now: phones have to trust it
	root *x509.Certificate
	mid  *x509.Certificate
	key  *ecdsa.PrivateKey
}

// Open reads the certificates kept in a folder, or makes them and keeps them there, readable for their owner alone. names
// are those that the machine may ever be asked by; addresses of private networks and of the machine itself are always among
// them. Made anew they are where the old ones near their end, or are of the kind that could speak for any site.
func Open(folder string, names []string, now time.Time) (*CA, error) {
	rootPEM, err := os.ReadFile(filepath.Join(folder, "root.pem"))
	if errors.Is(err, fs.ErrNotExist) {
		return makeCA(folder, names, now)
	}
	if err != nil {
		return nil, err
	}
	block, _ := pem.Decode(rootPEM)
	if block == nil {
		return nil, fmt.Errorf("%s holds no certificate; move it away to have one made anew", filepath.Join(folder, "root.pem"))
	}
	root, err := x509.ParseCertificate(block.Bytes)
	if err != nil {
		return nil, fmt.Errorf("%s: %w", folder, err)
	}
	pair, err := tls.LoadX509KeyPair(filepath.Join(folder, "intermediate.pem"), filepath.Join(folder, "intermediate.key"))
	if err != nil {
		return nil, fmt.Errorf("%s: %w", folder, err)
	}
	key, ok := pair.PrivateKey.(*ecdsa.PrivateKey)
	if !ok {
		return nil, fmt.Errorf("%s: not a key of ours", folder)
	}
	if pair.Leaf.NotAfter.Before(now.Add(365 * 24 * time.Hour)) {
		return makeCA(folder, names, now)
	}
	return &CA{PEM: rootPEM, root: root, mid: pair.Leaf, key: key}, nil
}

func makeCA(folder string, names []string, now time.Time) (*CA, error) {
	if err := os.MkdirAll(folder, 0o700); err != nil {
		return nil, err
	}
	rootKey, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader) // signs twice, and is never kept
	if err != nil {
		return nil, err
	}
	key, err := ecdsa.GenerateKey(elliptic.P256(), rand.Reader)
	if err != nil {
		return nil, err
	}
	template := &x509.Certificate{
		SerialNumber: serial(), Subject: pkix.Name{CommonName: "Patient Fox, this practice's own"},
		NotBefore: now.Add(-24 * time.Hour), NotAfter: now.Add(caLife), IsCA: true, BasicConstraintsValid: true, MaxPathLen: 1,
		KeyUsage: x509.KeyUsageCertSign | x509.KeyUsageCRLSign,
	}
	root, err := signed(template, template, &rootKey.PublicKey, rootKey)
	if err != nil {
		return nil, err
	}
	mid := *template
	mid.SerialNumber, mid.Subject = serial(), pkix.Name{CommonName: "Patient Fox, this machine"}
	mid.MaxPathLen, mid.MaxPathLenZero = 0, true
	mid.ExtKeyUsage = []x509.ExtKeyUsage{x509.ExtKeyUsageServerAuth}
	mid.PermittedDNSDomainsCritical = true // of all the constraints
	mid.PermittedDNSDomains, mid.PermittedIPRanges = hostsOf(names), private()
	// Nothing of these either: a kind of name that is not constrained would be free.
	mid.PermittedEmailAddresses, mid.PermittedURIDomains = []string{"localhost"}, []string{"localhost"}
	between, err := signed(&mid, root, &key.PublicKey, rootKey)
	if err != nil {
		return nil, err
	}
	raw, err := x509.MarshalPKCS8PrivateKey(key)
	if err != nil {
		return nil, err
	}
	ca := &CA{PEM: encoded("CERTIFICATE", root.Raw), New: true, root: root, mid: between, key: key}
	return ca, errors.Join(
		os.WriteFile(filepath.Join(folder, "intermediate.key"), encoded("PRIVATE KEY", raw), 0o600),
		os.WriteFile(filepath.Join(folder, "intermediate.pem"), encoded("CERTIFICATE", between.Raw), 0o600),
		os.WriteFile(filepath.Join(folder, "root.pem"), ca.PEM, 0o600),               // last: it is what Open looks for
		gone(filepath.Join(folder, "ca.key")), gone(filepath.Join(folder, "ca.pem")), // could speak for any site
	)
}

func gone(path string) error {
	if err := os.Remove(path); !errors.Is(err, fs.ErrNotExist) {
		return err
	}
	return nil
}

func signed(template, parent *x509.Certificate, public *ecdsa.PublicKey, key *ecdsa.PrivateKey) (*x509.Certificate, error) {
	der, err := x509.CreateCertificate(rand.Reader, template, parent, public, key)
	if err != nil {
		return nil, err
	}
	return x509.ParseCertificate(der)
}

func encoded(kind string, der []byte) []byte {
	return pem.EncodeToMemory(&pem.Block{Type: kind, Bytes: der})
}

func serial() *big.Int {
	n, err := rand.Int(rand.Reader, new(big.Int).Lsh(big.NewInt(1), 120))
	if err != nil {
		panic(err) // never fails
	}
	return n
}

// hostsOf are the names among names and addresses.
func hostsOf(names []string) (hosts []string) {
	for _, name := range names {
		if name = strings.ToLower(strings.TrimSuffix(name, ".")); net.ParseIP(name) == nil && name != "" && !slices.Contains(hosts, name) {
			hosts = append(hosts, name)
		}
	}
	if len(hosts) == 0 {
		hosts = []string{"localhost"} // none at all would be all
	}
	return hosts
}

// private are the ranges of addresses that are this machine's own or lie in a private network: whatever the next Wi-Fi gives.
func private() (ranges []*net.IPNet) {
	for _, cidr := range []string{
		"127.0.0.0/8", "10.0.0.0/8", "172.16.0.0/12", "192.168.0.0/16", "169.254.0.0/16", "::1/128", "fc00::/7", "fe80::/10",
	} {
		_, one, err := net.ParseCIDR(cidr)
		if err != nil {
			panic(err) // they are written above
		}
		ranges = append(ranges, one)
	}
	return ranges
}

// Fingerprint is the root's SHA-256, to be compared by eye.
func (ca *CA) Fingerprint() string {
	sum := sha256.Sum256(ca.root.Raw)
	parts := make([]string, len(sum))
	for i, b := range sum {
		parts[i] = fmt.Sprintf("%02X", b)
	}
	return strings.Join(parts, ":")
}

// Speaks tells whether the authority may speak for a name or an address.
func (ca *CA) Speaks(name string) bool {
	if ip := net.ParseIP(name); ip != nil {
		return slices.ContainsFunc(ca.mid.PermittedIPRanges, func(one *net.IPNet) bool { return one.Contains(ip) })
	}
	name = strings.ToLower(strings.TrimSuffix(name, "."))
	return slices.ContainsFunc(ca.mid.PermittedDNSDomains, func(host string) bool { return name == host || strings.HasSuffix(name, "."+host) })
}

// Certificate makes one for a server under these names and addresses, but for those that the authority may not speak for: one
// such name would make the whole certificate invalid.
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
		switch ip := net.ParseIP(name); {
		case !ca.Speaks(name):
		case ip != nil:
			template.IPAddresses = append(template.IPAddresses, ip)
		default:
			template.DNSNames = append(template.DNSNames, name)
		}
	}
	leaf, err := signed(template, ca.mid, &key.PublicKey, ca.key)
	if err != nil {
		return tls.Certificate{}, err
	}
	return tls.Certificate{Certificate: [][]byte{leaf.Raw, ca.mid.Raw}, PrivateKey: key, Leaf: leaf}, nil
}

// Source makes certificates as a server needs them: before one ends, and when the machine's names or addresses are others.
func (ca *CA) Source(names func() []string, now func() time.Time) func(*tls.ClientHelloInfo) (*tls.Certificate, error) {
	var lock sync.Mutex
	var current tls.Certificate
	var looked time.Time
	var of []string
	return func(*tls.ClientHelloInfo) (*tls.Certificate, error) {
		lock.Lock()
		defer lock.Unlock()
		at := now()
		if looked.IsZero() || at.Sub(looked) > lookAgain || at.Before(looked) {
			looked = at
			if list := names(); current.Leaf == nil || !slices.Equal(list, of) || current.Leaf.NotAfter.Before(at.Add(leafRenew)) {
				made, err := ca.Certificate(list, at)
				if err != nil {
					return nil, err
				}
				current, of = made, list
			}
		}
		serving := current
		return &serving, nil
	}
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
