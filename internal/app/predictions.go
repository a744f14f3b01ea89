package app

import (
	"hash/fnv"

	"patientfox/core/evidence"
	"patientfox/core/fit"
	"patientfox/core/phrase"
)

// maxPredicted is over how many of the latest sessions predictions are held against what came: the model is fitted before each.
const maxPredicted = 150

// Predicted are the chances of the trials of a skill, each as it was predicted from earlier sessions alone, and what came.
func (r SkillRecord) Predicted() []fit.Predicted {
	return fit.Predict(r.Sessions[max(0, len(r.Sessions)-maxPredicted):])
}

// Calibration is how far predictions came true.
type Calibration struct {
	Says   string
	N      int
	Tenths []TenthRow // those in which there were any
}

// TenthRow is what was predicted within a tenth, and what came.
type TenthRow struct {
	Said   float64 // the mean of what was predicted
	Came   float64
	Lo, Hi float64 // the 80 % range of what came
	Met, N int
}

// rangeOf is how wide the ranges of predictions are.
const rangeOf = 0.8

// CalibrationOf says how far predictions came true.
func CalibrationOf(predicted []fit.Predicted) (c Calibration) {
	c.N = len(predicted)
	model, running := fit.Brier(predicted)
	c.Says = phrase.Calibrated(model, running, len(predicted))
	for _, one := range fit.Tenths(predicted) {
		if one.N == 0 {
			continue
		}
		in := evidence.Jeffreys(one.Met, one.N, rangeOf)
		c.Tenths = append(c.Tenths, TenthRow{
			Said: one.Mean, Came: float64(one.Met) / float64(one.N), Lo: in.Lo, Hi: in.Hi, Met: one.Met, N: one.N,
		})
	}
	return c
}

// SeedOf is the seed of what is drawn by lot for a plan or a dog: the same one gives the same page.
func SeedOf(id string) uint64 {
	hash := fnv.New64a()
	hash.Write([]byte(id))
	return hash.Sum64()
}
