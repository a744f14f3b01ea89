package devices

import (
	"errors"
	"fmt"
	"strconv"
	"time"

	"github.com/gofiber/fiber/v3"

	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/people"
	"patientfox/internal/web/shell"
)

type signIn struct {
	Name        string // whom a claimed code lets in, "" where none was
	Fingerprint string // of the certificate that phones trust
	Passkeys    bool   // one can be used here
}

// claimCookie names the cookie of a browser that has claimed a code.
const claimCookie = "pf_claim"

func (s screen) knock(c fiber.Ctx, status int, v signIn, form shell.Form) error {
	v.Fingerprint, v.Passkeys = s.sh.Fingerprint, s.sh.Address(c).Passkeys() == ""
	return s.sh.Render(c, s.doorstep, status, shell.View{Title: "Sign in", Bare: true, V: v, Form: form})
}

func (s screen) enter(c fiber.Ctx, cookie string) error {
	s.sh.LetIn(c, cookie)
	return shell.See(c, "/")
}

func (s screen) signIn(c fiber.Ctx) error {
	typed := shell.Typed(c)
	if code := typed.Text("code"); code != "" {
		return s.claim(c, code)
	}
	cookie, err := s.p.SignIn(c.Context(), c.IP(), typed)
	var soon *people.TooSoon
	if errors.As(err, &soon) {
		return tooSoon(c, soon)
	}
	if form, status, ok := shell.Problems(typed, err); ok {
		delete(form.Typed, "password")
		return s.knock(c, status, signIn{}, form)
	}
	if err != nil {
		return err
	}
	return s.enter(c, cookie)
}

// claim takes a code for this browser. The code is gone with that: who opens its link after, or finds it in a history, is not
// let in by it.
func (s screen) claim(c fiber.Ctx, code string) error {
	claimed, err := s.p.ClaimCode(c.Context(), c.IP(), code)
	var soon *people.TooSoon
	switch {
	case errors.As(err, &soon):
		return tooSoon(c, soon)
	case errors.Is(err, app.ErrNotFound):
		wrong := map[string]string{
			"code": "No device can come in by this code: it is mistyped, was used, or is older than ten minutes. Check it, or make " +
				"another one on the laptop.",
		}
		return s.knock(c, fiber.StatusNotFound, signIn{}, shell.Form{Typed: form.Typed{}, Problems: wrong})
	case err != nil:
		return err
	}
	s.sh.Cookie(c, fiber.Cookie{Name: claimCookie, Value: claimed, Path: "/pair", MaxAge: 600, SameSite: fiber.CookieSameSiteLaxMode})
	return shell.See(c, "/pair")
}

// claimed asks whether the device is to be let in.
func (s screen) claimed(c fiber.Ctx) error {
	who, err := s.p.Claimed(c.Context(), c.Cookies(claimCookie))
	if errors.Is(err, app.ErrNotFound) {
		return shell.See(c, "/signin")
	}
	if err != nil {
		return err
	}
	return s.knock(c, fiber.StatusOK, signIn{Name: who.Name}, shell.Form{Typed: form.Typed{}})
}

// take lets it in.
func (s screen) take(c fiber.Ctx) error {
	cookie, err := s.p.TakeClaim(c.Context(), c.Cookies(claimCookie), shell.Typed(c).Text("device"))
	if errors.Is(err, app.ErrNotFound) {
		return shell.See(c, "/signin")
	}
	if err != nil {
		return err
	}
	s.sh.Cookie(c, fiber.Cookie{Name: claimCookie, Path: "/pair", MaxAge: -1})
	return s.enter(c, cookie)
}

// tooSoon says how long somebody has to wait who tried too often.
func tooSoon(c fiber.Ctx, soon *people.TooSoon) error {
	wait := soon.Wait.Round(time.Second) + time.Second
	c.Set(fiber.HeaderRetryAfter, strconv.Itoa(int(wait.Seconds())))
	return fiber.NewError(fiber.StatusTooManyRequests, fmt.Sprintf("Too many tries. Wait %s, then try again.", wait))
}
