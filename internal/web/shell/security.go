package shell

import (
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"net"
	"net/url"
	"slices"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/requestid"
)

// Time a handler has; its context goes to the database.
const handlerTime = 5 * time.Second

const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; font-src 'self'; connect-src 'self'; " +
	"worker-src 'self'; manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

// WorkerPolicy is for the one answer that may compile the core: the Worker's own.
const WorkerPolicy = "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; connect-src 'self'"

// EventHeader marks a post of events as our own script's: another site cannot send it.
const EventHeader = "X-Patient-Fox"

// BodyLimit bounds what one request may send, in bytes.
const BodyLimit = 256 << 10

// Guard checks the host and the size, and sets the headers of every answer.
func (s *Shell) Guard(c fiber.Ctx) error {
	c.Set("Content-Security-Policy", policy)
	c.Set(fiber.HeaderXContentTypeOptions, "nosniff")
	c.Set(fiber.HeaderXFrameOptions, "DENY")
	c.Set(fiber.HeaderReferrerPolicy, "same-origin")
	if c.Scheme() == "https" || loopbackName(nameOf(c.Host())) {
		c.Set("Cross-Origin-Opener-Policy", "same-origin") // elsewhere browsers ignore it, and say so on every page
	}
	c.Set("Cross-Origin-Resource-Policy", "same-origin")
	c.Set("Permissions-Policy", "camera=(), microphone=(), geolocation=()")
	if !s.hostAllowed(c.Host()) {
		return fiber.NewError(fiber.StatusMisdirectedRequest, "This server does not answer to that name.")
	}
	if len(c.Request().Body()) > BodyLimit {
		return fiber.ErrRequestEntityTooLarge
	}
	ctx, cancel := context.WithTimeout(c.Context(), handlerTime)
	defer cancel()
	c.SetContext(ctx)
	return c.Next()
}

// hostAllowed: a server that is signed in on loopback would otherwise be open to any page whose name
// is pointed at this machine.
func (s *Shell) hostAllowed(host string) bool {
	name := nameOf(host)
	// An address in figures cannot be pointed elsewhere by a name; who asks by it still has to be let in.
	return loopbackName(name) || slices.Contains(s.hosts, name) || s.SignIn && net.ParseIP(name) != nil
}

// ownOrigin tells whether a post comes from our own pages.
func ownOrigin(c fiber.Ctx) bool {
	if site := c.Get("Sec-Fetch-Site"); site != "" && site != "same-origin" {
		return false
	}
	origin := c.Get(fiber.HeaderOrigin)
	if origin == "" {
		return true // not a browser's cross-site post: those carry one
	}
	u, err := url.Parse(origin)
	return err == nil && u.Host == c.Host()
}

// Forms lets a posted form through if it comes from our own pages and carries their token.
func (s *Shell) Forms(c fiber.Ctx) error {
	if c.Method() != fiber.MethodPost {
		return c.Next()
	}
	if !ownOrigin(c) {
		return fiber.NewError(fiber.StatusForbidden, "This form did not come from Patient Fox.")
	}
	if c.Get(EventHeader) != "" {
		return c.Next() // checked by the origin and a header that no form can send
	}
	given := c.FormValue("csrf")
	if !hmac.Equal([]byte(given), []byte(s.sign(c.Cookies(cookieName)))) || c.Cookies(cookieName) == "" {
		return fiber.NewError(fiber.StatusForbidden, "This form is from an older visit. Go back, reload the page, and send it again: your browser still has what you typed.")
	}
	return c.Next()
}

const cookieName = "pf_form"

// token is the form token of this browser: a cookie of chance, signed. It needs no memory, so a
// server that was restarted still takes forms that were open.
func (s *Shell) token(c fiber.Ctx) string {
	seed := c.Cookies(cookieName)
	if raw, err := base64.RawURLEncoding.DecodeString(seed); err != nil || len(raw) != 32 {
		raw = make([]byte, 32)
		rand.Read(raw) //nolint:errcheck // never fails
		seed = base64.RawURLEncoding.EncodeToString(raw)
		c.Cookie(&fiber.Cookie{Name: cookieName, Value: seed, Path: "/", HTTPOnly: true, SameSite: fiber.CookieSameSiteStrictMode, MaxAge: 400 * 24 * 3600})
	}
	return s.sign(seed)
}

func (s *Shell) sign(seed string) string {
	mac := hmac.New(sha256.New, s.secret)
	mac.Write([]byte(seed))
	return base64.RawURLEncoding.EncodeToString(mac.Sum(nil))
}

// RequestID is the id under which this request stands in the log.
func RequestID(c fiber.Ctx) string { return requestid.FromContext(c) }
