package shell

import (
	"net"
	"net/url"
	"strconv"
	"strings"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app/people"
)

// deviceCookie names the cookie of a device that was let in.
const deviceCookie = "pf_device"

const (
	personKey = "person"
	accessKey = "access"
)

// Access lets in who may come in. A server that only its own machine reaches asks nobody there; everybody else has to have a
// device that was paired or signed in.
func (s *Shell) Access(c fiber.Ctx) error {
	if s.local(c) {
		return c.Next()
	}
	person, may, err := s.Who(c.Context(), Cookie(c))
	if err != nil {
		return err
	}
	if person != "" {
		c.Locals(personKey, person)
		c.Locals(accessKey, may)
		c.SetContext(people.As(c.Context(), person))
		return c.Next()
	}
	if asks, is := Least(c.Method(), c.Path()); is && asks == people.Nobody {
		return c.Next()
	}
	if strings.HasPrefix(c.Path(), "/api/") {
		return fiber.NewError(fiber.StatusUnauthorized, "This device is not paired (any more). What it has logged is kept on it.")
	}
	return See(c, "/signin")
}

// stranger tells whether who asks was not let in, and asks for what is open to anybody.
func (s *Shell) stranger(c fiber.Ctx) bool { return Person(c) == "" && !s.local(c) }

// forwarded are headers by which something between says that it asks for another.
var forwarded = []string{"Forwarded", "X-Forwarded-For", "X-Forwarded-Host", "X-Forwarded-Proto", "X-Real-Ip", "Via"}

// local tells whether a request comes from the machine itself, by its own name, on a server that no other machine reaches.
// What was forwarded comes from anywhere.
func (s *Shell) local(c fiber.Ctx) bool {
	if s.SignIn || !loopbackName(nameOf(c.Host())) {
		return false
	}
	for _, header := range forwarded {
		if c.Get(header) != "" {
			return false
		}
	}
	return true
}

// Cookie is the cookie of the device that asks, "" where it has none.
func Cookie(c fiber.Ctx) string { return c.Cookies(deviceCookie) }

// Cookie sets a cookie that no script reads, and that is sent over TLS alone where the page came so.
func (s *Shell) Cookie(c fiber.Ctx, cookie fiber.Cookie) {
	cookie.HTTPOnly, cookie.Secure = true, c.Scheme() == "https"
	if cookie.SameSite == "" {
		cookie.SameSite = fiber.CookieSameSiteStrictMode
	}
	c.Cookie(&cookie)
}

// Person is who uses the device that asks, "" on the server's own machine.
func Person(c fiber.Ctx) string {
	person, _ := c.Locals(personKey).(string)
	return person
}

// LetIn gives a device its cookie.
func (s *Shell) LetIn(c fiber.Ctx, cookie string) {
	s.Cookie(c, fiber.Cookie{Name: deviceCookie, Value: cookie, Path: "/", MaxAge: 400 * 24 * 3600})
}

// Public is the address under which other machines reach this server.
func (s *Shell) Public(c fiber.Ctx) string {
	if s.PublicURL != "" {
		return strings.TrimSuffix(s.PublicURL, "/")
	}
	return c.Scheme() + "://" + c.Host()
}

// Address is how the browser that asks reaches this server.
func (s *Shell) Address(c fiber.Ctx) people.Address {
	scheme := c.Scheme()
	if u, err := url.Parse(s.PublicURL); err == nil && u.Host == c.Host() {
		scheme = u.Scheme // whatever stands between them
	}
	return people.Address{Host: nameOf(c.Host()), Origin: scheme + "://" + c.Host()}
}

// Figure writes a whole number for a drawing.
func Figure(n int) string { return strconv.Itoa(n) }

func nameOf(host string) string {
	if h, _, err := net.SplitHostPort(host); err == nil {
		host = h
	}
	return strings.Trim(host, "[]")
}

func loopbackName(name string) bool {
	return name == "127.0.0.1" || name == "localhost" || name == "::1"
}
