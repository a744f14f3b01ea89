package phrase

import (
	"fmt"
	"math"

	"patientfox/core/criteria"
	"patientfox/core/reinforce"
	"patientfox/core/say"
)

// Need says where a dog's need of energy comes from.
func Need(n reinforce.Need) string {
	if n.Vet {
		return fmt.Sprintf("%.0f kcal a day, as its vet says.", n.Kcal)
	}
	if n.Kg <= 0 {
		return "No weight is known, so no need can be worked out: write the weight, or a vet's figure."
	}
	weight := "its weight; an ideal one would be better"
	if n.Ideal {
		weight = "its ideal weight"
	}
	return fmt.Sprintf("%.0f kcal a day: at rest 70 × %s kg to the power of 0.75 = %.0f, times %s (%s). On %s.",
		n.Kcal, criteria.Figure(n.Kg), n.Resting, criteria.Figure(n.Factor), reinforce.LabelOf(reinforce.Stages, string(n.Stage)), weight)
}

// Budget says how much of a day's training food is used, and whether it is too much.
func Budget(b reinforce.Budget, known bool) (says string, over bool) {
	given := fmt.Sprintf("%.0f kcal eaten", b.Eaten)
	if b.Planned > 0 {
		given += fmt.Sprintf(", %.0f planned", b.Planned)
	}
	if !known {
		return say.Upper(given) + " today. Beside what it needs nothing can be said while its weight is not known.", false
	}
	left := b.Left()
	switch {
	case b.FromMeals && left >= 0:
		return fmt.Sprintf("%s. Training food comes out of meals: %.0f kcal are left for the bowl.", say.Upper(given), b.Meals()), false
	case b.FromMeals:
		return fmt.Sprintf("%s: that is %.0f kcal more than the whole day needs.", say.Upper(given), -left), true
	case left >= 0:
		return fmt.Sprintf("%s of the %.0f that training food may be, %s of the day: %.0f left.", say.Upper(given), b.Allowed,
				say.Percent(b.Allowed/math.Max(1, b.Need)), left),
			false
	}
	return fmt.Sprintf("%s: that is %.0f kcal over the %.0f that training food may be, %s of the day. Smaller treats, or take "+
			"it out of meals.",
			say.Upper(given), -left, b.Allowed, say.Percent(b.Allowed/math.Max(1, b.Need))),
		true
}
