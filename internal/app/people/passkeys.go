package people

import (
	"bytes"
	"context"
	"encoding/base64"
	"encoding/json"
	"errors"
	"net"
	"strings"
	"sync"
	"time"

	"github.com/go-webauthn/webauthn/protocol"
	"github.com/go-webauthn/webauthn/webauthn"

	"patientfox/internal/app"
	"patientfox/internal/store"
)

// Bounds of passkeys.
const (
	ceremonyLife   = 5 * time.Minute
	mostCeremonies = 2000
	mostPasskeys   = 20 // of a person
	mostAnswer     = 64 << 10
)

// Address is how a browser reaches the server: passkeys belong to a name, and need a connection that nobody can read.
type Address struct {
	Host   string // the name, without a port
	Origin string // such as https://quay.example:8420
}

// Passkeys says why there can be none at an address, "" where there can.
func (a Address) Passkeys() string {
	switch {
	case a.Host == "localhost":
		return ""
	case net.ParseIP(a.Host) != nil:
		return "A passkey belongs to a name, and this page is reached by a number. Use a code or a password here."
	case !strings.HasPrefix(a.Origin, "https://"):
		return "A passkey needs https. Use a code or a password here."
	}
	return ""
}

// errPasskey says that an answer of a browser was not what a ceremony asked for.
var errPasskey = errors.New("the passkey was not taken")

// PasskeyProblem tells whether an error means that a passkey does not fit.
func PasskeyProblem(err error) bool { return errors.Is(err, errPasskey) }

// ceremony is a question to a browser that waits for its answer.
type ceremony struct {
	session webauthn.SessionData
	person  string // who makes a passkey, "" for somebody who signs in
	until   time.Time
}

// ceremonies are the questions that wait, by a secret that the browser sends back. It is safe for concurrent use.
type ceremonies struct {
	lock sync.Mutex
	of   map[string]ceremony
}

func (c *ceremonies) begin(one ceremony, now time.Time) (token string) {
	token = store.NewSecret()
	c.lock.Lock()
	defer c.lock.Unlock()
	for known, old := range c.of {
		if now.After(old.until) {
			delete(c.of, known)
		}
	}
	if c.of == nil || len(c.of) >= mostCeremonies {
		c.of = map[string]ceremony{}
	}
	c.of[token] = one
	return token
}

// take answers a question once.
func (c *ceremonies) take(token string, now time.Time) (one ceremony, ok bool) {
	c.lock.Lock()
	defer c.lock.Unlock()
	one, ok = c.of[token]
	delete(c.of, token)
	return one, ok && now.Before(one.until)
}

// holder is a person as the library sees one.
type holder struct {
	id, name string
	keys     []webauthn.Credential
}

func (h holder) WebAuthnID() []byte                         { return []byte(h.id) }
func (h holder) WebAuthnName() string                       { return h.name }
func (h holder) WebAuthnDisplayName() string                { return h.name }
func (h holder) WebAuthnCredentials() []webauthn.Credential { return h.keys }

func (a Address) party() (*webauthn.WebAuthn, error) {
	return webauthn.New(&webauthn.Config{RPID: a.Host, RPDisplayName: "Patient Fox", RPOrigins: []string{a.Origin}})
}

// holder reads a person with their passkeys at an address; app.ErrNotFound where they are not there (any more).
func (p *Cases) holder(ctx context.Context, person string, at Address) (h holder, err error) {
	people, err := p.Store.Read().People(ctx)
	if err != nil {
		return h, err
	}
	for _, one := range people {
		if one.ID == person {
			h.id, h.name = one.ID, one.Name
		}
	}
	if h.id == "" {
		return h, app.ErrNotFound
	}
	keys, err := p.Store.Keys().PasskeysOf(ctx, person)
	for _, one := range keys {
		var key webauthn.Credential
		if one.Host == at.Host && json.Unmarshal([]byte(one.Credential), &key) == nil {
			h.keys = append(h.keys, key)
		}
	}
	return h, err
}

// Question is what a browser is asked, and the token by which it answers.
type Question struct {
	Token   string `json:"token"`
	Options any    `json:"options"`
}

// MakePasskey asks the browser of a person for a new passkey.
func (p *Cases) MakePasskey(ctx context.Context, person string, at Address) (q Question, err error) {
	if at.Passkeys() != "" || person == "" {
		return q, app.ErrNotFound
	}
	h, err := p.holder(ctx, person, at)
	if err != nil {
		return q, err
	}
	party, err := at.party()
	if err != nil {
		return q, err
	}
	options, session, err := party.BeginRegistration(h,
		webauthn.WithAuthenticatorSelection(protocol.AuthenticatorSelection{
			ResidentKey: protocol.ResidentKeyRequirementRequired, UserVerification: protocol.VerificationRequired,
		}),
		webauthn.WithExclusions(webauthn.Credentials(h.keys).CredentialDescriptors()))
	if err != nil {
		return q, err
	}
	token := p.asked.begin(ceremony{*session, person, p.Now().Add(ceremonyLife)}, p.Now())
	return Question{token, options.Response}, nil
}

// AddPasskey keeps what a browser answered.
func (p *Cases) AddPasskey(ctx context.Context, person string, at Address, token, name string, answer []byte) error {
	asked, ok := p.asked.take(token, p.Now())
	if !ok || asked.person != person || person == "" || len(answer) > mostAnswer {
		return errPasskey
	}
	h, err := p.holder(ctx, person, at)
	if err != nil {
		return err
	}
	party, err := at.party()
	if err != nil {
		return err
	}
	parsed, err := protocol.ParseCredentialCreationResponseBody(bytes.NewReader(answer))
	if err != nil {
		return errors.Join(errPasskey, err)
	}
	key, err := party.CreateCredential(h, asked.session, parsed)
	if err != nil {
		return errors.Join(errPasskey, err)
	}
	known, err := p.Store.Keys().PasskeysOf(ctx, person)
	if err != nil {
		return err
	}
	if len(known) >= mostPasskeys {
		return errPasskey
	}
	if name = strings.TrimSpace(name); name == "" {
		name = "A passkey"
	}
	if runes := []rune(name); len(runes) > 60 {
		name = string(runes[:60])
	}
	if err := p.Store.Keys().AddPasskey(ctx, store.Passkey{
		ID: key.ID, Person: person, Name: name, Host: at.Host, Credential: store.JSON(key), Made: p.Ms(),
	}); err != nil {
		return err
	}
	return p.Store.Enter(ctx, passkeyEntry(key.ID, person, name, true))
}

func passkeyEntry(id []byte, person, name string, made bool) store.Entry {
	row := store.JSON(map[string]string{"name": name, "person": person})
	e := store.Entry{What: "passkey", ID: base64.RawURLEncoding.EncodeToString(id), Was: &row}
	if made {
		e.Was, e.Became = nil, &row
	}
	return e
}

// AskPasskey asks a browser for a passkey to sign in with.
func (p *Cases) AskPasskey(at Address) (q Question, err error) {
	if at.Passkeys() != "" {
		return q, app.ErrNotFound
	}
	party, err := at.party()
	if err != nil {
		return q, err
	}
	options, session, err := party.BeginDiscoverableLogin(webauthn.WithUserVerification(protocol.VerificationRequired))
	if err != nil {
		return q, err
	}
	token := p.asked.begin(ceremony{*session, "", p.Now().Add(ceremonyLife)}, p.Now())
	return Question{token, options.Response}, nil
}

// PasskeySignIn lets a device in by the passkey that its browser answered with, and returns its cookie.
func (p *Cases) PasskeySignIn(
	ctx context.Context, from string, at Address, token, device string, answer []byte,
) (cookie string, err error) {
	if wait := p.tries.wait(p.Now(), "at "+from); wait > 0 {
		return "", &TooSoon{wait}
	}
	person, key, err := p.recognised(ctx, at, token, answer)
	if PasskeyProblem(err) {
		p.tries.failed(p.Now(), "at "+from)
		p.Log.Warn("a sign-in by a passkey failed", "address", from)
	}
	if err != nil {
		return "", err
	}
	if err := p.Store.Keys().UsedPasskey(ctx, key.ID, store.JSON(key), p.Ms()); err != nil {
		return "", err
	}
	p.tries.forget("at " + from)
	return p.letIn(ctx, person, device)
}

// recognised is whose passkey an answer is.
func (p *Cases) recognised(
	ctx context.Context, at Address, token string, answer []byte,
) (person string, key *webauthn.Credential, err error) {
	asked, ok := p.asked.take(token, p.Now())
	if !ok || asked.person != "" || len(answer) > mostAnswer {
		return "", nil, errPasskey
	}
	party, err := at.party()
	if err != nil {
		return "", nil, err
	}
	parsed, err := protocol.ParseCredentialRequestResponseBody(bytes.NewReader(answer))
	if err != nil {
		return "", nil, errors.Join(errPasskey, err)
	}
	user, key, err := party.ValidatePasskeyLogin(func(_, id []byte) (webauthn.User, error) {
		h, err := p.holder(ctx, string(id), at)
		return h, err
	}, asked.session, parsed)
	if err != nil {
		return "", nil, errors.Join(errPasskey, err)
	}
	if key.Authenticator.CloneWarning {
		return "", nil, errPasskey
	}
	return string(user.WebAuthnID()), key, nil
}

// PasskeyRow is a passkey on the page of whose it is.
type PasskeyRow struct {
	ID, Name, Since string
	Elsewhere       string // the name under which it works where that is not this one, "" where it works here
}

// passkeys lists those of a person, as they see them at an address.
func (p *Cases) passkeys(ctx context.Context, s app.Profile, person, host string) (rows []PasskeyRow, err error) {
	keys, err := p.Store.Keys().PasskeysOf(ctx, person)
	today := s.Day(p.Ms())
	for _, one := range keys {
		row := PasskeyRow{
			ID: base64.RawURLEncoding.EncodeToString(one.ID), Name: one.Name, Since: app.ShortDay(s.Day(one.Made), today),
		}
		if one.Host != host {
			row.Elsewhere = one.Host
		}
		rows = append(rows, row)
	}
	return rows, err
}

// DropPasskey forgets one of a person's.
func (p *Cases) DropPasskey(ctx context.Context, person, id string) error {
	raw, err := base64.RawURLEncoding.DecodeString(id)
	if err != nil {
		return app.ErrNotFound
	}
	keys, err := p.Store.Keys().PasskeysOf(ctx, person)
	if err != nil {
		return err
	}
	there, err := p.Store.Keys().DropPasskey(ctx, person, raw)
	if err == nil && !there {
		err = app.ErrNotFound
	}
	if err != nil {
		return err
	}
	for _, one := range keys {
		if bytes.Equal(one.ID, raw) {
			return p.Store.Enter(ctx, passkeyEntry(raw, person, one.Name, false))
		}
	}
	return nil
}
