package reinforce

// UsualFood is a food that many trainers use, by a piece about the size of a lentil.
type UsualFood struct {
	Key   string
	Name  string
	Grams float64 // of a piece
	Kcal  float64 // of a piece
}

// UsualFoods are ten sorts to begin from, the driest first. Energy is rounded from common food composition tables (3.6 kcal/g for dry dog
// food down to 0.4 for carrot); what stands on a packet is better, and every figure can be changed.
var UsualFoods = []UsualFood{
	{"kibble", "Dry dog food", 0.4, 1.4},
	{"soft", "Soft training treats", 0.6, 1.9},
	{"liver", "Dried liver", 0.3, 1.1},
	{"fish", "Dried fish", 0.3, 1},
	{"cheese", "Mild cheese", 0.5, 1.8},
	{"sausage", "Sausage", 0.5, 1.4},
	{"chicken", "Boiled chicken", 0.5, 0.8},
	{"egg", "Boiled egg", 0.5, 0.8},
	{"paste", "Meat paste, a lick", 1, 1.5},
	{"carrot", "Carrot", 0.5, 0.2},
}

// FindUsualFood returns the one of a key.
func FindUsualFood(key string) (UsualFood, bool) {
	for _, one := range UsualFoods {
		if one.Key == key {
			return one, true
		}
	}
	return UsualFood{}, false
}
