package fit

// Session are the trials of one session, in order.
type Session struct {
	Trials []Trial
	Day    float64 // on which it was, counted from anywhere; Days of its trials are not read
}

// Predicted is a trial with the chance that it was given by what was known before it.
type Predicted struct {
	P       float64 // by the model
	Running float64 // by the running rate of the step: (met + ½) ÷ (trials + 1)
	Met     bool
}

// Predict gives each trial the chance that it had by earlier ones alone: the model is fitted to the sessions before, the running rate
// goes on within the session.
func Predict(sessions []Session) (list []Predicted) {
	var known []Trial
	met, n := map[string]int{}, map[string]int{}
	last := 0.0
	for _, s := range sessions {
		for i := range known {
			known[i].Days += s.Day - last
		}
		last = s.Day
		m := Load(known)
		for _, t := range s.Trials {
			list = append(list, Predicted{
				P: m.At(t.Conditions).P, Running: (float64(met[t.Step]) + 0.5) / float64(n[t.Step]+1), Met: t.Met,
			})
			if n[t.Step]++; t.Met {
				met[t.Step]++
			}
			t.Days = 0
			known = append(known, t)
		}
	}
	return list
}

// Brier are the mean squared errors of the model's chances and of the running rate's, 0…1, less is better; 0 for no trial.
func Brier(list []Predicted) (model, running float64) {
	for _, one := range list {
		y := outcome(one.Met)
		model += (one.P - y) * (one.P - y)
		running += (one.Running - y) * (one.Running - y)
	}
	if n := float64(len(list)); n > 0 {
		model, running = model/n, running/n
	}
	return model, running
}

// Tenth is what was predicted within one tenth, and what came.
type Tenth struct {
	N, Met int
	Mean   float64 // of what was predicted
}

// Tenths sort predictions by their tenth.
func Tenths(list []Predicted) (tenths [10]Tenth) {
	for _, one := range list {
		t := &tenths[min(9, int(one.P*10))]
		t.N++
		t.Mean += one.P
		if one.Met {
			t.Met++
		}
	}
	for i := range tenths {
		if t := &tenths[i]; t.N > 0 {
			t.Mean /= float64(t.N)
		}
	}
	return tenths
}

func outcome(met bool) float64 {
	if met {
		return 1
	}
	return 0
}
