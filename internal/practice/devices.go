package practice

import (
	"context"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base32"
	"encoding/base64"
	"errors"
	"slices"
	"strings"
	"sync"
	"time"

	"golang.org/x/crypto/bcrypt"

	"patientfox/internal/store"
)

// Limits of signing in.
const (
	leastPassword = 10 // characters
	mostPassword  = 72 // bytes, as many as bcrypt reads
	pairingLife   = 10 * time.Minute
)

// DevicesView is who may come in from another machine.
type DevicesView struct {
	Devices []DeviceRow
	People  []Named
	Locked  []string // names of those that have a password
}

// DeviceRow is one device.
type DeviceRow struct{ ID, Name, Who, Since string }

// Devices lists them.
func (p *Practice) Devices(ctx context.Context) (v DevicesView, err error) {
	q := p.store.Read()
	s, err := p.settings(ctx, q)
	if err != nil {
		return v, err
	}
	list, err := q.Devices(ctx)
	if err != nil {
		return v, err
	}
	for _, d := range list {
		v.Devices = append(v.Devices, DeviceRow{d.ID, d.Name, d.Who, time.UnixMilli(d.Made).In(s.zone).Format("2 Jan 15:04")})
	}
	people, err := q.People(ctx)
	if err != nil {
		return v, err
	}
	for _, one := range people {
		v.People = append(v.People, Named{one.ID, one.Name})
		switch _, err := q.Login(ctx, one.ID); {
		case err == nil:
			v.Locked = append(v.Locked, one.Name)
		case !errors.Is(err, store.ErrNone):
			return v, err
		}
	}
	return v, nil
}

// SetPassword gives a person a password.
func (p *Practice) SetPassword(ctx context.Context, t Typed) error {
	ps := problems{}
	password := t["password"]
	switch n := len([]rune(password)); {
	case n < leastPassword:
		ps.add("password", "At least ten characters. A few words that nobody would guess are easy to keep.")
	case len(password) > mostPassword:
		ps.add("password", "At most 72 bytes: shorten it.")
	case password != t["again"]:
		ps.add("again", "These two are not the same.")
	}
	q := p.store.Read()
	people, err := q.People(ctx)
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(people, func(one store.Person) bool { return one.ID == t.Text("person") }) {
		ps.add("person", "Choose who signs in.")
	}
	if err := ps.err(); err != nil {
		return err
	}
	hash, err := bcrypt.GenerateFromPassword([]byte(password), passwordCost)
	if err != nil {
		return err
	}
	return p.store.Write(ctx, func(q store.Q) error { return q.SetLogin(ctx, t.Text("person"), string(hash), p.ms()) })
}

// passwordCost is how hard a password is to try out.
var passwordCost = bcrypt.DefaultCost

// CheapPasswords makes them easy to try out: for tests, which the race detector slows down.
func CheapPasswords() { passwordCost = bcrypt.MinCost }

// decoy is compared where somebody has no password, so that the answer takes as long.
var decoy = sync.OnceValue(func() string {
	hash, err := bcrypt.GenerateFromPassword([]byte(NewID()), passwordCost)
	if err != nil {
		panic(err) // the length fits
	}
	return string(hash)
})

// SignIn lets a device in by a person's password, and returns its cookie.
func (p *Practice) SignIn(ctx context.Context, t Typed) (cookie string, err error) {
	hash, err := p.store.Read().Login(ctx, t.Text("person"))
	known := err == nil
	if err != nil && !errors.Is(err, store.ErrNone) {
		return "", err
	}
	if !known {
		hash = decoy()
	}
	if wrong := bcrypt.CompareHashAndPassword([]byte(hash), []byte(t["password"])); wrong != nil || !known {
		return "", &Invalid{map[string]string{"password": "That password does not fit this name."}}
	}
	return p.letIn(ctx, t.Text("person"), t.Text("device"), nil)
}

// Pair makes a code that lets one device in as a person, once, within ten minutes.
func (p *Practice) Pair(ctx context.Context, t Typed) (code string, err error) {
	raw := make([]byte, 10)
	rand.Read(raw) //nolint:errcheck // never fails
	code = base32.StdEncoding.EncodeToString(raw)
	people, err := p.store.Read().People(ctx)
	if err != nil {
		return "", err
	}
	if !slices.ContainsFunc(people, func(one store.Person) bool { return one.ID == t.Text("person") }) {
		return "", &Invalid{map[string]string{"pair_person": "Choose who uses the device."}}
	}
	now := p.now()
	return code, p.store.Write(ctx, func(q store.Q) error {
		return q.AddPairing(ctx, hashed(code), t.Text("person"), now.UnixMilli(), now.Add(pairingLife).UnixMilli())
	})
}

// Paired says whom a code lets in.
func (p *Practice) Paired(ctx context.Context, code string) (Named, error) {
	q := p.store.Read()
	person, err := q.Pairing(ctx, hashed(code), p.ms())
	if err != nil {
		return Named{}, found(err)
	}
	people, err := q.People(ctx)
	for _, one := range people {
		if one.ID == person {
			return Named{one.ID, one.Name}, nil
		}
	}
	return Named{}, errors.Join(err, ErrNotFound)
}

// TakeCode lets a device in by a code, and returns its cookie.
func (p *Practice) TakeCode(ctx context.Context, code, device string) (cookie string, err error) {
	who, err := p.Paired(ctx, code)
	if err != nil {
		return "", err
	}
	return p.letIn(ctx, who.ID, device, hashed(code))
}

// letIn makes a device; a code it came by is used up in the same transaction.
func (p *Practice) letIn(ctx context.Context, person, name string, code []byte) (cookie string, err error) {
	raw := make([]byte, 32)
	rand.Read(raw) //nolint:errcheck // never fails
	cookie = base64.RawURLEncoding.EncodeToString(raw)
	if name = strings.TrimSpace(name); name == "" {
		name = "A device"
	}
	if runes := []rune(name); len(runes) > 60 {
		name = string(runes[:60])
	}
	return cookie, p.store.Write(ctx, func(q store.Q) error {
		if code != nil {
			there, err := q.UsePairing(ctx, code)
			if err != nil {
				return err
			}
			if !there {
				return ErrNotFound
			}
		}
		return q.AddDevice(ctx, store.Device{ID: NewID(), Person: person, Token: hashed(cookie), Name: name, Made: p.ms()})
	})
}

// SignedIn is whose device a cookie belongs to, "" where it may not come in.
func (p *Practice) SignedIn(ctx context.Context, cookie string) (person string, err error) {
	if cookie == "" {
		return "", nil
	}
	d, err := p.store.Read().DeviceByToken(ctx, hashed(cookie))
	if errors.Is(err, store.ErrNone) {
		return "", nil
	}
	return d.Person, err
}

// SignOut keeps a device out from now on. What waits on it stays there.
func (p *Practice) SignOut(ctx context.Context, id string) error {
	return p.store.Write(ctx, func(q store.Q) error {
		there, err := q.RevokeDevice(ctx, id, p.ms())
		if err == nil && !there {
			return ErrNotFound
		}
		return err
	})
}

// hashed is how a secret is kept. A code is read as it is typed: in any case, with or without hyphens.
func hashed(secret string) []byte {
	if len(secret) < 30 {
		secret = strings.ToUpper(strings.NewReplacer("-", "", " ", "").Replace(secret))
	}
	sum := sha256.Sum256([]byte(secret))
	return sum[:]
}
