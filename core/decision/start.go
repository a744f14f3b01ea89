package decision

// Visit is what is known of today's session before it begins.
type Visit struct {
	Reached    int  // index of the reached step
	Steps      int  // number of steps
	First      bool // there is no earlier session of this skill: nothing is dropped
	Days       int  // calendar days since the last session of this skill, in the practice's zone
	NewPlace   bool // the place is new to this skill
	NewHandler bool // the handler is new to this skill
	Stopped    bool // the last session of this skill ended in a stop
	Halved     int  // steps down to a half step that was split off and has not led back up yet, 0 for none
}

// DropCode names a reason to start lower.
type DropCode string

// The reasons to start lower.
const (
	LongPause  DropCode = "long_pause"
	Pause      DropCode = "pause"
	NewPlace   DropCode = "new_place"
	NewHandler DropCode = "new_handler"
	AfterStop  DropCode = "after_stop"
	SplitOff   DropCode = "split_off"
)

// Drop is one reason to start lower, and by how many steps.
type Drop struct {
	Code  DropCode `json:"code"`
	Steps int      `json:"steps"`
	Days  int      `json:"days,omitempty"`
}

// Days after which a pause costs a fifth of the steps, or one step.
const (
	longPauseDays = 21
	pauseDays     = 7
)

// StartStep says where to start today: the reached step less every drop, at most half the steps in
// all and never below the first; no higher than a half step that was split off.
func StartStep(v Visit) (step int, drops []Drop) {
	if v.First || v.Steps <= 0 {
		return max(0, v.Reached), nil
	}
	fifth := (v.Steps + 4) / 5
	switch {
	case v.Days > longPauseDays:
		drops = append(drops, Drop{LongPause, fifth, v.Days})
	case v.Days > pauseDays:
		drops = append(drops, Drop{Pause, 1, v.Days})
	}
	if v.NewPlace {
		drops = append(drops, Drop{Code: NewPlace, Steps: fifth})
	}
	if v.NewHandler {
		drops = append(drops, Drop{Code: NewHandler, Steps: fifth})
	}
	if v.Stopped {
		drops = append(drops, Drop{Code: AfterStop, Steps: 1})
	}
	total := 0
	for _, d := range drops {
		total += d.Steps
	}
	if total = min(total, (v.Steps+1)/2); v.Halved > total { // what opens lower leads past the half step on its way up
		return max(0, v.Reached-v.Halved), []Drop{{Code: SplitOff, Steps: v.Halved}}
	}
	return max(0, v.Reached-total), drops
}
