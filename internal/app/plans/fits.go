package plans

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/progression"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
)

// Fits are what the ladder of a form does otherwise than it was asked, as codes: of a new plan for a dog, or of one that is there. Whoever
// lays a ladder out without looking at it first is told on the plan.
func (p *Cases) Fits(ctx context.Context, dog, plan string, t form.Typed) (codes []string, err error) {
	q := p.Store.Read()
	own, err := app.OwnDimensions(ctx, q)
	if err != nil {
		return nil, err
	}
	var fits []progression.Fit
	if plan != "" {
		s, l, err := p.LookIn(ctx, q, plan)
		if err != nil {
			return nil, err
		}
		fits = buildsOn(l, s, p.Ms(), own, t).Fits(work.Kind(l.Kind), t, nil)
	} else {
		s, d, err := p.WithDog(ctx, q, dog)
		if err != nil {
			return nil, err
		}
		from, err := findTemplate(ctx, q, t.Text("from"))
		if err != nil {
			return nil, err
		}
		kind, f := work.Kind(t.Text("kind")), form.Figures{Units: s.Units(), All: form.DimensionsOf(own)}
		f.Case = newCase(f, d, s.Day(p.Ms()), kind, t, from)
		fits = f.Fits(kind, t, from)
	}
	for _, fit := range fits {
		codes = append(codes, fmt.Sprintf("%s %s %t %g %g", fit.Code, fit.Dim.Key, fit.Goal, fit.Was, fit.Now))
	}
	return codes, nil
}

// SayFits says codes of Fits; what is none is left out.
func (p *Cases) SayFits(ctx context.Context, codes []string) (lines []string, err error) {
	q := p.Store.Read()
	s, err := p.Profile(ctx, q)
	if err != nil {
		return nil, err
	}
	own, err := app.OwnDimensions(ctx, q)
	if err != nil {
		return nil, err
	}
	for _, code := range codes {
		part := strings.Fields(code)
		if len(part) != 5 {
			continue
		}
		fit := progression.Fit{Code: progression.FitCode(part[0]), Goal: part[2] == "true"}
		was, err := strconv.ParseFloat(part[3], 64)
		now, err2 := strconv.ParseFloat(part[4], 64)
		for _, d := range form.DimensionsOf(own) {
			if d.Key == criteria.Key(part[1]) && err == nil && err2 == nil {
				fit.Dim, fit.Was, fit.Now = d, was, now
				if line := s.Words().Fit(fit); line != "" {
					lines = append(lines, line)
				}
			}
		}
	}
	return lines, nil
}
