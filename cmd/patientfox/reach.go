package main

import (
	"crypto/tls"
	"fmt"
	"io"
	"net"
	"net/url"
	"os"
	"path/filepath"
	"slices"
	"strings"

	"patientfox/internal/ownca"
)

// secured is how the server speaks https, nil config where it does not.
type secured struct {
	config  *tls.Config
	ca      []byte   // PEM, where the certificate was made here
	names   []string // under which this machine is reached
	print   string   // the certificate's fingerprint
	fresh   bool     // it was made just now
	outside []string // names that it cannot speak for
}

// secured reads the certificate given, or makes one.
func (o *options) secured() (s secured, err error) {
	var cert tls.Certificate
	switch {
	case o.cert != "" || o.key != "":
		if o.cert == "" || o.key == "" || o.tls != "" {
			return s, fmt.Errorf("--tls-cert and --tls-key go together, and without --tls")
		}
		if cert, err = tls.LoadX509KeyPair(o.cert, o.key); err != nil {
			return s, fmt.Errorf("--tls-cert: %w", err)
		}
	case o.tls == "self":
		now, err := o.clock()
		if err != nil {
			return s, err
		}
		names := func() []string { return append(ownca.OwnNames(), o.hosts...) }
		ca, err := ownca.Open(filepath.Join(o.data, "tls"), names(), now())
		if err != nil {
			return s, err
		}
		for _, name := range names() {
			if !ca.Speaks(name) {
				s.outside = append(s.outside, name)
			}
		}
		s.ca, s.print, s.fresh = ca.PEM, ca.Fingerprint(), ca.New
		s.config = &tls.Config{GetCertificate: ca.Source(names, now), MinVersion: tls.VersionTLS12}
	case o.tls != "":
		return s, fmt.Errorf("--tls takes self; a certificate of your own is given by --tls-cert and --tls-key")
	default:
		return s, nil
	}
	if host, err := os.Hostname(); err == nil {
		s.names = []string{host, host + ".local"}
	}
	if s.config == nil {
		s.config = &tls.Config{Certificates: []tls.Certificate{cert}, MinVersion: tls.VersionTLS12}
	}
	return s, nil
}

// publicURL is where phones reach the server: as told, else under this machine's first address that its certificate may
// speak for, or its name where there is none.
func (o *options) publicURL(reached bool, s secured) string {
	if o.public != "" || !reached {
		return o.public
	}
	host, port, err := net.SplitHostPort(o.listen)
	if err != nil {
		return ""
	}
	if ip := net.ParseIP(host); host == "" || ip != nil && ip.IsUnspecified() {
		host = reachedAs(ownca.OwnNames(), s.outside)
	}
	scheme := "http"
	if s.config != nil {
		scheme = "https"
	}
	return scheme + "://" + net.JoinHostPort(host, port)
}

// households is where the phones of households reach the server and trust it already, "" where it is not known that they do. A certificate
// that was made here is trusted by phones that were told to alone. By http there is this machine's own browser, for a look.
func (o *options) households(s secured) string {
	own, plain := strings.CutPrefix(strings.TrimSuffix(o.public, "/"), "http://")
	if strings.HasPrefix(o.public, "https://") && s.ca == nil || plain && loopback(own) {
		return o.public
	}
	return ""
}

// publicName is the name in the address under which phones reach the server: it answers to that.
func (o *options) publicName() []string {
	u, err := url.Parse(o.public)
	if err != nil || u.Hostname() == "" {
		return nil
	}
	return []string{u.Hostname()}
}

// reachedAs chooses among a machine's names and addresses the one to hand on: an address of IPv4, else one of IPv6, else its
// name in the local network, else its name.
func reachedAs(names, outside []string) string {
	suits := []func(name string, ip net.IP) bool{
		func(_ string, ip net.IP) bool { return ip != nil && ip.To4() != nil },
		func(_ string, ip net.IP) bool { return ip != nil },
		func(name string, _ net.IP) bool { return strings.HasSuffix(name, ".local") },
	}
	for _, suits := range suits {
		for _, name := range names {
			if ip := net.ParseIP(name); (ip == nil || !ip.IsLoopback()) && suits(name, ip) && !slices.Contains(outside, name) {
				return name
			}
		}
	}
	return names[len(names)-1]
}

// servedAt is the address under which this machine's own browser finds what a listener serves.
func servedAt(scheme string, listens net.Addr) string {
	host, port, err := net.SplitHostPort(listens.String())
	if err != nil {
		return scheme + "://" + listens.String()
	}
	if ip := net.ParseIP(host); ip != nil && ip.IsUnspecified() {
		host = "localhost"
	}
	return scheme + "://" + net.JoinHostPort(host, port)
}

// reachedBy says how phones come in.
func (o *options) reachedBy(out io.Writer, reached bool, s secured) {
	if !reached {
		return
	}
	fmt.Fprintf(out,
		"Phones reach it at %s. Every browser has to be paired once, this machine's own too:\npatientfox pair makes a code on the "+
			"terminal, and so does Settings, Phones and other devices.\n",
		o.publicURL(reached, s))
	switch {
	case s.config == nil:
		fmt.Fprintln(out,
			"This is plain http: a phone's browser refuses to work without a signal, and whoever shares the network can read along. "+
				"Use --tls self, or --tls-cert and --tls-key.")
	case s.ca != nil:
		if s.fresh {
			fmt.Fprintln(out, "Its certificate is new. A phone that trusted an older one of Patient Fox should remove that one.")
		}
		fmt.Fprintf(out, "Each phone has to trust its certificate once: open /signin there. Its SHA-256 is\n%s\n", s.print)
		for _, name := range s.outside {
			if net.ParseIP(name) != nil {
				fmt.Fprintf(out, "It does not cover %s, because it covers addresses of private networks only: a phone cannot use that one.\n", name)
				continue
			}
			fmt.Fprintf(out,
				"It does not cover the name %s, which was not known when it was made. Move the folder tls away to have it made anew; "+
					"each phone has to trust it again then.\n",
				name)
		}
	}
}
