package caution

import (
	"slices"
	"strings"
)

// Where is what is about to happen.
type Where struct {
	Flags      bool   // the dog has safety flags: bite, bolt, health
	Safety     bool   // the plan has a step that keeps the dog or others safe
	AfterError string // what is done after an error
	Recorded   bool   // something was done after one that comes with a caution
}

// For lists the cautions that belong there.
func For(w Where) []string {
	var list []string
	if w.Flags {
		list = append(list,
			"Biting, growling, guarding, panic or a sudden change: stop, manage, and refer to a veterinarian or a certified "+
				"behaviour professional. Pain, stiffness or refusal of a known skill: vet first.")
	}
	if w.Safety {
		list = append(list,
			"A step passed here is never permission to drop a line near traffic, water or stock. Local law and the venue's rules come first.")
	}
	if w.AfterError == "spoken interrupter" {
		list = append(list,
			"An interrupter is recorded here, not advised. Where it worries the dog, leave it out, and ask qualified, licensed help; "+
				"local law applies.")
	}
	if w.Recorded {
		list = append(list,
			"What was done is recorded, not advised: Patient Fox plans with criteria, set-up and reinforcement. Corrections carry "+
				"welfare risk and are restricted or banned in places; local law applies, and qualified, licensed help is there to ask.")
	}
	return list
}

// Sore is what is said of a dog that is sore somewhere.
func Sore(dog, where string) string {
	return dog + " is sore: " + where + ". Ask for less there, and nothing that hurts; the veterinarian says what may be worked."
}

// GrowlDays is for how many days a growl or a snap is cautioned of.
const GrowlDays = 14

const growled = "It growled or snapped within the last 14 days: a bite may be near. Stop sooner and keep it away from what it warned of. " +
	"Refer to a veterinarian or a certified behaviour professional."

// WithGrowl puts the caution of a dog that growled or snapped lately before others.
func WithGrowl(list []string) []string {
	if slices.Contains(list, growled) {
		return list
	}
	return append([]string{growled}, list...)
}

// Ruled is why a plan is not started with this dog as things are, and what to do instead.
type Ruled struct {
	Why     string `json:"why"`
	Instead string `json:"instead"`
}

// Plan is what of a plan matters for that.
type Plan struct {
	Handled bool // the dog is touched, groomed or treated
	Jumps   bool // height, tight turns, or a slope
	Loose   bool // the line comes off
}

// Words of a dog's flags that rule a plan out.
var (
	hurts = []string{"pain", "lame", "limp", "stiff", "sore", "arthrit", "dysplas", "surgery", "operat", "injur", "strain"}
	bites = []string{"bite", "bit ", "bitten", "snap", "growl", "muzzle"}
	bolts = []string{"bolt", "runs off", "run off", "escape", "slips"}
)

func says(flags string, words []string) bool {
	flags = " " + strings.NewReplacer("\n", " ", ",", " ", ":", " ").Replace(strings.ToLower(flags)) + " "
	for _, word := range words {
		if strings.Contains(flags, " "+word) {
			return true
		}
	}
	return false
}

// Hurts tells whether a dog's flags speak of pain or an injury.
func Hurts(flags string) bool { return says(flags, hurts) }

// Bites tells whether a dog's flags speak of biting.
func Bites(flags string) bool { return says(flags, bites) }

// RulesOut says whether a dog's safety flags keep a plan from starting; nil where they do not. Somebody qualified can
// clear it, and is named then.
func RulesOut(flags string, p Plan) *Ruled {
	switch {
	case p.Jumps && says(flags, hurts):
		return &Ruled{
			"Not with this dog as it is: height or turns, and its flags speak of pain or an injury.",
			"Vet first. Until then work on the flat, without jumps, turns or slopes.",
		}
	case p.Handled && says(flags, bites):
		return &Ruled{
			"Not with this dog as it is: it is handled, and its flags speak of biting.",
			"A certified behaviour professional first. Until then work on what needs no touch: a settle, a station, a hand target at " +
				"its own choice.",
		}
	case p.Loose && says(flags, bolts):
		return &Ruled{
			"Not with this dog as it is: the line comes off, and its flags speak of bolting.",
			"Keep the line on, in a closed place, and let somebody qualified look at it first.",
		}
	}
	return nil
}

// toxic are foods that harm dogs, by the words under which they are written down.
var toxic = []string{
	"chocolate", "cocoa", "grape", "raisin", "sultana", "currant", "onion", "garlic", "leek", "chive", "xylitol", "birch sugar",
	"macadamia", "alcohol", "coffee", "caffeine", "nutmeg",
}

// Toxic warns of a food whose name or contents are known to harm dogs; "" where none is named. The list is
// short and no substitute for a vet's word.
func Toxic(name string, contains []string) string {
	for _, text := range append([]string{name}, contains...) {
		for _, word := range toxic {
			if strings.Contains(strings.ToLower(text), word) {
				return "“" + word + "” is known to harm dogs: do not feed it, and ask a vet where it was eaten."
			}
		}
	}
	return ""
}

// Treats is what holds for every food that is paid with.
const Treats = "About the size of a lentil, soft, nothing to choke on. Count it into the day; a dog that is ill, young or " +
	"on a diet is fed as its vet says."
