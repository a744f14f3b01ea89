package work

import (
	"maps"

	"patientfox/core/criteria"
)

// CardAsked is what a trial asks by its card, beside what varies; that alone without a card.
func CardAsked(card, varied map[criteria.Key]float64) map[criteria.Key]float64 {
	if len(card) == 0 {
		return varied
	}
	asked := maps.Clone(card)
	maps.Copy(asked, varied)
	return asked
}

// CardWorked adds to the settings as they really are those of the card that the step has otherwise; what a trial shows is measured.
func CardWorked(step criteria.Criteria, card, worked map[criteria.Key]float64) map[criteria.Key]float64 {
	for key, x := range card {
		d, known := criteria.Find(key)
		if key == criteria.Lead || key == criteria.Out || !known || x == Planned(step, d) {
			continue
		}
		if worked == nil {
			worked = map[criteria.Key]float64{}
		}
		worked[key] = x
	}
	return worked
}
