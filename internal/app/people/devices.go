package people

import (
	"context"
	"crypto/rand"
	"encoding/base32"
	"errors"
	"fmt"
	"slices"
	"strings"
	"sync"
	"time"
	"unicode/utf8"

	"github.com/trustelem/zxcvbn"
	"golang.org/x/crypto/bcrypt"

	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/store"
)

// Limits of signing in.
const (
	minPassword = 12  // characters
	maxPassword = 72  // bytes, as many as bcrypt reads
	minGuesses  = 1e8 // of somebody who knows what people usually choose
	pairingLife = 10 * time.Minute
	deviceLife  = 180 * 24 * time.Hour // unused
	usedEvery   = 24 * time.Hour       // how often it is kept that a device is used
)

// DevicesView is who may come in from another machine.
type DevicesView struct {
	Devices []DeviceRow
	People  []app.Named
	Locked  []app.Named // those that have a password
}

// HasPassword tells whether a person has one.
func (v DevicesView) HasPassword(person string) bool {
	return slices.ContainsFunc(v.Locked, func(one app.Named) bool { return one.ID == person })
}

// DeviceRow is one device.
type DeviceRow struct{ ID, Name, Who, Since, Used string }

// Devices lists them.
func (p *Cases) Devices(ctx context.Context) (v DevicesView, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	var names map[string]string
	if v.People, names, err = app.People(ctx, q); err != nil {
		return v, err
	}
	for _, one := range v.People {
		switch _, err := q.Login(ctx, one.ID); {
		case err == nil:
			v.Locked = append(v.Locked, app.Named{ID: one.ID, Name: one.Name})
		case !errors.Is(err, store.ErrNone):
			return v, err
		}
	}
	list, err := p.Store.Keys().Devices(ctx, p.unused())
	if err != nil {
		return v, err
	}
	for _, d := range list {
		day := func(ms int64) string { return time.UnixMilli(ms).In(s.Zone).Format("2 Jan 2006") }
		v.Devices = append(v.Devices, DeviceRow{d.ID, d.Name, names[d.Person], day(d.Made), day(d.Used)})
	}
	return v, nil
}

// unused is the moment since which a device must have been used, UTC ms.
func (p *Cases) unused() int64 { return p.Now().Add(-deviceLife).UnixMilli() }

// SetPassword gives a person a password, or another one where the old one is typed too; their other devices are signed out
// then, all but the one with the cookie.
func (p *Cases) SetPassword(ctx context.Context, cookie string, t form.Typed) error {
	ps := form.Problems{}
	q := p.Store.Read()
	people, err := q.People(ctx)
	if err != nil {
		return err
	}
	person := t.Text("person")
	at := slices.IndexFunc(people, func(one store.Person) bool { return one.ID == person })
	if at < 0 {
		ps.Add("person", "Choose whose password it is.")
	}
	known := []string{"patient", "fox", "patientfox"}
	if at >= 0 {
		known = append(known, strings.Fields(people[at].Name)...)
	}
	checkPassword(ps, t["password"], t["again"], known)
	old, err := q.Login(ctx, person)
	switch {
	case errors.Is(err, store.ErrNone):
	case err != nil:
		return err
	default:
		if wait := p.tries.wait(p.Now(), "old "+person); wait > 0 {
			return &TooSoon{wait}
		}
		if bcrypt.CompareHashAndPassword([]byte(old), []byte(t["old"])) != nil {
			p.tries.failed(p.Now(), "old "+person)
			ps.Add("old", "That is not the password so far.")
		}
	}
	if err := ps.Err(); err != nil {
		return err
	}
	hash, err := bcrypt.GenerateFromPassword([]byte(t["password"]), passwordCost)
	if err != nil {
		return err
	}
	if err := p.Store.Write(ctx, func(q store.Q) error { return q.SetLogin(ctx, person, string(hash), p.Ms()) }); err != nil || old == "" {
		return err
	}
	mine, err := p.device(ctx, cookie)
	if err != nil {
		return err
	}
	return p.signOutOthers(ctx, person, mine.ID)
}

// checkPassword says what is wrong with a new password; known are words that whoever guesses would try first.
func checkPassword(ps form.Problems, password, again string, known []string) {
	switch n := utf8.RuneCountInString(password); {
	case n < minPassword:
		ps.Add("password", fmt.Sprintf("At least %d characters. A few words that nobody would guess are easy to keep.", minPassword))
	case len(password) > maxPassword:
		ps.Add("password", fmt.Sprintf("At most %d bytes: shorten it.", maxPassword))
	case zxcvbn.PasswordStrength(password, known).Guesses < minGuesses:
		ps.Add("password", "That one is among the first that anybody would guess. A few words that do not belong together are better.")
	case password != again:
		ps.Add("again", "These two are not the same.")
	}
}

// ForgetPassword takes the password and the passkeys of a person away, by name, and signs their devices out; it says whether there was one.
func (p *Cases) ForgetPassword(ctx context.Context, name string) (there bool, err error) {
	people, err := p.Store.Read().People(ctx)
	if err != nil {
		return false, err
	}
	for _, one := range people {
		if !sameName(one.Name, name) {
			continue
		}
		err = p.Store.Write(ctx, func(q store.Q) error {
			dropped, err := q.DropLogin(ctx, one.ID)
			there = there || dropped
			return err
		})
		if err == nil {
			err = errors.Join(p.Store.Keys().DropPasskeys(ctx, one.ID), p.signOutOthers(ctx, one.ID, ""))
		}
		if err != nil {
			return there, err
		}
	}
	return there, nil
}

func sameName(a, b string) bool { return strings.EqualFold(strings.TrimSpace(a), strings.TrimSpace(b)) }

// passwordCost is how hard a password is to try out.
var passwordCost = bcrypt.DefaultCost

// CheapPasswords makes them easy to try out: for tests, which the race detector slows down.
func CheapPasswords() { passwordCost = bcrypt.MinCost }

// decoy is compared where somebody has no password, so that the answer takes as long.
var decoy = sync.OnceValue(func() string {
	hash, err := bcrypt.GenerateFromPassword([]byte(app.NewID()), passwordCost)
	if err != nil {
		panic(err) // the length fits
	}
	return string(hash)
})

// SignIn lets a device in by a person's name and password, and returns its cookie. Whoever tries from an address, or one
// name from anywhere, again and again has to wait longer each time: *TooSoon.
func (p *Cases) SignIn(ctx context.Context, from string, t form.Typed) (cookie string, err error) {
	name := t.Text("name")
	if wait := p.tries.wait(p.Now(), "at "+from, "as "+strings.ToLower(name)); wait > 0 {
		return "", &TooSoon{wait}
	}
	q := p.Store.Read()
	people, err := q.People(ctx)
	if err != nil {
		return "", err
	}
	account := ""
	for _, one := range people {
		if !sameName(one.Name, name) {
			continue
		}
		hash, err := q.Login(ctx, one.ID)
		if errors.Is(err, store.ErrNone) {
			continue
		}
		if err != nil {
			return "", err
		}
		account = one.ID
		if bcrypt.CompareHashAndPassword([]byte(hash), []byte(t["password"])) == nil {
			p.tries.forget("at "+from, "as "+strings.ToLower(name))
			return p.letIn(ctx, one.ID, t.Text("device"))
		}
	}
	if account == "" {
		_ = bcrypt.CompareHashAndPassword([]byte(decoy()), []byte(t["password"]))
	}
	p.tries.failed(p.Now(), "at "+from, "as "+strings.ToLower(name))
	p.Log.Warn("a sign-in failed", "address", from, "account", account)
	return "", &form.Invalid{Problems: map[string]string{"password": "That password does not fit this name."}}
}

// Pair makes a code that lets one device in as a person, once, within ten minutes.
func (p *Cases) Pair(ctx context.Context, t form.Typed) (code string, err error) {
	raw := make([]byte, 10)
	rand.Read(raw) //nolint:errcheck // never fails
	code = base32.StdEncoding.EncodeToString(raw)
	people, err := p.Store.Read().People(ctx)
	if err != nil {
		return "", err
	}
	if !slices.ContainsFunc(people, func(one store.Person) bool { return one.ID == t.Text("person") }) {
		return "", &form.Invalid{Problems: map[string]string{"pair_person": "Choose who uses the device."}}
	}
	now := p.Now()
	err = p.Store.Keys().AddPairing(ctx, hashed(code), t.Text("person"), now.UnixMilli(), now.Add(pairingLife).UnixMilli())
	return code, err
}

// ClaimCode takes a code for one browser: what it returns lets that one in, and the code lets nobody in any more.
func (p *Cases) ClaimCode(ctx context.Context, from, code string) (claim string, err error) {
	if wait := p.tries.wait(p.Now(), "at "+from); wait > 0 {
		return "", &TooSoon{wait}
	}
	claim = store.NewSecret()
	there, err := p.Store.Keys().ClaimPairing(ctx, hashed(code), hashed(claim), p.Ms())
	if err == nil && !there {
		p.tries.failed(p.Now(), "at "+from)
		return "", app.ErrNotFound
	}
	return claim, err
}

// Claimed says whom a claim lets in.
func (p *Cases) Claimed(ctx context.Context, claim string) (app.Named, error) {
	person, err := p.Store.Keys().Claimed(ctx, hashed(claim), p.Ms())
	if err != nil {
		return app.Named{}, app.Found(err)
	}
	people, err := p.Store.Read().People(ctx)
	for _, one := range people {
		if one.ID == person {
			return app.Named{ID: one.ID, Name: one.Name}, nil
		}
	}
	return app.Named{}, errors.Join(err, app.ErrNotFound)
}

// TakeClaim lets a device in by a claim, and returns its cookie.
func (p *Cases) TakeClaim(ctx context.Context, claim, name string) (cookie string, err error) {
	who, err := p.Claimed(ctx, claim)
	if err != nil {
		return "", err
	}
	cookie = store.NewSecret()
	d := p.newDevice(who.ID, name, cookie)
	there, err := p.Store.Keys().UseClaim(ctx, hashed(claim), p.Ms(), d)
	if err == nil && !there {
		err = app.ErrNotFound
	}
	if err != nil {
		return "", err
	}
	return cookie, p.paired(ctx, d)
}

// paired enters into the journal that a device came in.
func (p *Cases) paired(ctx context.Context, d store.Device) error {
	now := deviceEntry(d)
	return p.Store.Enter(As(ctx, d.Person), store.Entry{What: "device", ID: d.ID, Became: &now})
}

func deviceEntry(d store.Device) string {
	return store.JSON(map[string]string{"name": d.Name, "person": d.Person})
}

// signOutOthers keeps all devices of a person out but one, all of them for "".
func (p *Cases) signOutOthers(ctx context.Context, person, but string) error {
	devices, err := p.Store.Keys().Devices(ctx, p.unused())
	if err != nil {
		return err
	}
	if !slices.ContainsFunc(devices, func(d store.Device) bool { return d.Person == person && d.ID != but }) {
		return nil
	}
	if err := p.Store.Keys().RevokeOthers(ctx, person, but, p.Ms()); err != nil {
		return err
	}
	was := "{}"
	return p.Store.Enter(ctx, store.Entry{What: "devices", ID: person, Was: &was})
}

func (p *Cases) newDevice(person, name, cookie string) store.Device {
	if name = strings.TrimSpace(name); name == "" {
		name = "A device"
	}
	if runes := []rune(name); len(runes) > 60 {
		name = string(runes[:60])
	}
	return store.Device{ID: app.NewID(), Person: person, Token: hashed(cookie), Name: name, Made: p.Ms()}
}

// letIn makes a device, and returns its cookie.
func (p *Cases) letIn(ctx context.Context, person, name string) (cookie string, err error) {
	cookie = store.NewSecret()
	d := p.newDevice(person, name, cookie)
	if err := p.Store.Keys().AddDevice(ctx, d); err != nil {
		return "", err
	}
	return cookie, p.paired(ctx, d)
}

// device is the one that a cookie belongs to, an empty one where it may not come in.
func (p *Cases) device(ctx context.Context, cookie string) (d store.Device, err error) {
	if cookie == "" {
		return d, nil
	}
	d, err = p.Store.Keys().DeviceByToken(ctx, hashed(cookie), p.unused())
	if errors.Is(err, store.ErrNone) {
		return store.Device{}, nil
	}
	return d, err
}

// SignedIn is whose device a cookie belongs to and how far it reaches, "" where it may not come in, or was not used for half a year.
func (p *Cases) SignedIn(ctx context.Context, cookie string) (person string, may Access, err error) {
	d, err := p.device(ctx, cookie)
	if err != nil || d.ID == "" {
		return "", Nobody, err
	}
	people, err := p.Store.Read().People(ctx)
	if err != nil {
		return "", Nobody, err
	}
	at := slices.IndexFunc(people, func(one store.Person) bool { return one.ID == d.Person })
	if at < 0 {
		return "", Nobody, nil
	}
	if now := p.Ms(); now-d.Used > usedEvery.Milliseconds() {
		// Reading does not need the disk: where it takes nothing, tomorrow is soon enough.
		if err := p.Store.Keys().UsedDevice(ctx, d.ID, now); err != nil {
			p.Log.Warn("that a device is used could not be kept", "error", err.Error())
		}
	}
	return d.Person, accessOf(people[at]), nil
}

// MeView is somebody on their own page.
type MeView struct {
	Name   string // "" on the server’s own machine
	Access Access
	Others int  // other devices of theirs
	Locked bool // they have a password

	Passkeys   []PasskeyRow
	NoPasskeys string // why none can be made or used where they are, "" where that can be
}

// Me shows the person whose device a cookie belongs to.
func (p *Cases) Me(ctx context.Context, cookie string, at Address) (v MeView, err error) {
	d, err := p.device(ctx, cookie)
	if err != nil || d.ID == "" {
		return v, err
	}
	q := p.Store.Read()
	people, err := q.People(ctx)
	if err != nil {
		return v, err
	}
	for _, one := range people {
		if one.ID == d.Person {
			v.Name, v.Access = one.Name, accessOf(one)
		}
	}
	devices, err := p.Store.Keys().Devices(ctx, p.unused())
	if err != nil {
		return v, err
	}
	for _, one := range devices {
		if one.Person == d.Person && one.ID != d.ID {
			v.Others++
		}
	}
	_, err = q.Login(ctx, d.Person)
	if v.Locked = err == nil; err != nil && !errors.Is(err, store.ErrNone) {
		return v, err
	}
	s, err := p.Profile(ctx, q)
	if err != nil {
		return v, err
	}
	v.NoPasskeys = at.Passkeys()
	v.Passkeys, err = p.passkeys(ctx, s, d.Person, at.Host)
	return v, err
}

// SignOutMine keeps the device of a cookie out from now on, or all devices of its person.
func (p *Cases) SignOutMine(ctx context.Context, cookie string, everywhere bool) error {
	d, err := p.device(ctx, cookie)
	if err != nil {
		return err
	}
	if d.ID == "" {
		return app.ErrNotFound
	}
	if everywhere {
		return p.signOutOthers(ctx, d.Person, "")
	}
	return p.SignOut(ctx, d.ID)
}

// SignOut keeps a device out from now on. What waits on it stays there.
func (p *Cases) SignOut(ctx context.Context, id string) error {
	devices, err := p.Store.Keys().Devices(ctx, p.unused())
	if err != nil {
		return err
	}
	there, err := p.Store.Keys().RevokeDevice(ctx, id, p.Ms())
	if err == nil && !there {
		return app.ErrNotFound
	}
	at := slices.IndexFunc(devices, func(d store.Device) bool { return d.ID == id })
	if err != nil || at < 0 {
		return err
	}
	was := deviceEntry(devices[at])
	return p.Store.Enter(ctx, store.Entry{What: "device", ID: id, Was: &was})
}

// hashed is how a secret is kept. A code is read as it is typed: in any case, with or without hyphens.
func hashed(secret string) []byte {
	if len(secret) < 30 {
		secret = strings.ToUpper(strings.NewReplacer("-", "", " ", "").Replace(secret))
	}
	return store.Hashed(secret)
}
