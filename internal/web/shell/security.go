package shell

import (
	"cmp"
	"context"
	"crypto/hmac"
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
	"io"
	"net"
	"net/url"
	"slices"
	"strings"
	"time"

	"github.com/gofiber/fiber/v3"
	"github.com/gofiber/fiber/v3/middleware/limiter"
	"github.com/gofiber/fiber/v3/middleware/requestid"
)

// Time a handler has, where nothing else is said; its context goes to the database.
const handlerTime = 5 * time.Second

const policy = "default-src 'none'; script-src 'self'; style-src 'self'; img-src 'self'; font-src 'self'; connect-src 'self'; " +
	"worker-src 'self'; manifest-src 'self'; form-action 'self'; base-uri 'none'; frame-ancestors 'none'"

// WorkerPolicy is for the one answer that may compile the core: the Worker's own.
const WorkerPolicy = "default-src 'none'; script-src 'self' 'wasm-unsafe-eval'; connect-src 'self'"

// FilePolicy is for a page that is sent as a file: where a browser opens it from here it may do nothing.
const FilePolicy = "sandbox; default-src 'none'"

// EventHeader marks a post of events as our own script's: another site cannot send it.
const EventHeader = "X-Patient-Fox"

// Bounds of what one request may send, in bytes.
const (
	BodyLimit     = 256 << 10
	strangerLimit = 8 << 10 // from who is not let in
	drainLimit    = 4 << 20 // is read and thrown away, so that a browser that is still sending sees the answer
)

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
	if s.HSTS && c.Scheme() == "https" {
		c.Set(fiber.HeaderStrictTransportSecurity, "max-age=31536000")
	}
	if !s.hostAllowed(c.Host()) {
		return fiber.NewError(fiber.StatusMisdirectedRequest, "This server does not answer to that name.")
	}
	if encoding := c.Get(fiber.HeaderContentEncoding); encoding != "" && !strings.EqualFold(encoding, "identity") {
		c.RequestCtx().SetConnectionClose()
		return fiber.NewError(fiber.StatusUnsupportedMediaType, "What is sent packed is not unpacked here. Send it as it is.")
	}
	ctx, cancel := context.WithTimeout(c.Context(), cmp.Or(s.Longest, handlerTime))
	defer cancel()
	c.SetContext(ctx)
	return c.Next()
}

// Body reads what a request carries, once it is known who asks: a form or events of known bounds. Nothing is read before, and
// what is larger is thrown away while it comes.
func (s *Shell) Body(c fiber.Ctx) error {
	req := c.Request()
	stream := req.BodyStream()
	if stream == nil {
		return c.Next()
	}
	limit := BodyLimit
	if s.stranger(c) {
		limit = strangerLimit
	}
	if req.Header.ContentLength() <= limit {
		body, err := io.ReadAll(io.LimitReader(stream, int64(limit)+1))
		if err != nil {
			c.RequestCtx().SetConnectionClose()
			return fiber.ErrBadRequest
		}
		if len(body) <= limit {
			req.SetBodyRaw(body)
			return c.Next()
		}
	}
	c.RequestCtx().SetConnectionClose()
	if limit == BodyLimit {
		_, _ = io.CopyN(io.Discard, stream, drainLimit) // whatever it is
	}
	return fiber.ErrRequestEntityTooLarge
}

// Slow bounds how often one address tries a password or a code, before anything of the request is read.
func Slow(tries int) fiber.Handler {
	return limiter.New(limiter.Config{
		Max: tries, Expiration: time.Minute,
		Next: func(c fiber.Ctx) bool {
			harmless := c.Path() == "/signin" && c.Method() == fiber.MethodGet || c.Path() == "/signin/passkey" // a question, and no try
			return harmless || !strings.HasPrefix(c.Path(), "/signin") && !strings.HasPrefix(c.Path(), "/pair")
		},
		LimitReached: TooOften,
	})
}

// TooOften answers somebody who has to wait.
func TooOften(c fiber.Ctx) error {
	c.RequestCtx().SetConnectionClose()
	return fiber.NewError(fiber.StatusTooManyRequests, "Too many tries. Wait a minute, then try again.")
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
		return fiber.NewError(fiber.StatusForbidden,
			"This form is from an older visit. Go back, reload the page, and send it again: your browser still has what you typed.")
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
		s.Cookie(c, fiber.Cookie{Name: cookieName, Value: seed, Path: "/", MaxAge: 400 * 24 * 3600})
	}
	return s.sign(seed)
}

func (s *Shell) sign(seed string) string {
	mac := hmac.New(sha256.New, s.secret)
	mac.Write([]byte(seed))
	return base64.RawURLEncoding.EncodeToString(mac.Sum(nil))
}

// RequestID is the id of this request in the log.
func RequestID(c fiber.Ctx) string { return requestid.FromContext(c) }
