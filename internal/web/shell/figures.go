package shell

import (
	"patientfox/internal/app"
	"patientfox/internal/web/figures"
)

// RateRow is a row of rates as the template "rates" draws it: a step, or whatever rates are compared of.
type RateRow struct {
	Label string
	Lines []RateLine
}

// RateLine is one of its rates with its range.
type RateLine struct {
	app.Rate
	Figure figures.Rate
}

// DrawRates draws rates with their ranges.
func DrawRates(rows []app.RateRow) (drawn []RateRow) {
	for _, r := range rows {
		one := RateRow{Label: r.Label}
		for _, rate := range r.Rates {
			share := float64(rate.Met) / float64(max(1, rate.N))
			one.Lines = append(one.Lines, RateLine{rate, figures.DrawRate(240, 22, share, rate.Lo, rate.Hi)})
		}
		drawn = append(drawn, one)
	}
	return drawn
}

// DrawCame draws what was predicted against what came, for the template "came"; nil where nothing was predicted.
func DrawCame(c app.Calibration) *figures.Reliability {
	if c.N == 0 {
		return nil
	}
	var tenths []figures.TenthIn
	for _, t := range c.Tenths {
		tenths = append(tenths, figures.TenthIn{Said: t.Said, Came: t.Came, Lo: t.Lo, Hi: t.Hi, N: t.N})
	}
	drawn := figures.DrawReliability(420, tenths)
	return &drawn
}
