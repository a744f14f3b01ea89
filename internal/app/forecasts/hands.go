package forecasts

import (
	"context"
	"fmt"
	"strings"

	"patientfox/internal/app"
	"patientfox/internal/store"
)

// Ask is what a forecast is asked of: a plan, and whose way on it, by id; "" is the main handler's. Seed is as typed, "" for the plan's.
type Ask struct{ Plan, Seed, With string }

// job names the computation.
func (a Ask) job(what string) string { return what + " " + a.Plan + " " + a.With }

// hands is whose way a forecast is of, and where it leads.
type hands struct {
	all     []app.Named
	with    app.Named // none for the main handler
	main    string    // their name
	to      int       // index of the step where the main handler is; 0: the top step is to be passed
	refuses string
}

// says names the handler beside the main one in a sentence.
func (h hands) says() string {
	if h.with.ID == "" {
		return ""
	}
	return " with " + h.with.Name
}

func (h hands) goal() string {
	if h.to == 0 {
		return "the top step"
	}
	return fmt.Sprintf("step %d, where it is with %s", h.to+1, h.main)
}

// goesTo makes the record that of one handler's level: a forecast of one is not read out of the trials of another. The way of a handler
// beside the main one leads to where that one is.
func (p *Cases) goesTo(ctx context.Context, q store.Q, w *looking) error {
	people, err := q.Handlers(ctx, w.ID)
	if err != nil {
		return err
	}
	h := &w.hands
	for _, one := range people {
		named := app.Named{ID: one.ID, Name: one.Name}
		if one.ID == w.MainHandler {
			h.all, h.main = append([]app.Named{named}, h.all...), one.Name
			continue
		}
		if one.StepAt >= 0 {
			h.all = append(h.all, named)
		}
		if one.ID == w.ask.With {
			h.with = named
		}
	}
	if h.with.ID != "" {
		if err := p.otherWay(ctx, q, w); err != nil {
			return err
		}
	}
	w.Only(w.MainLevel())
	return nil
}

// otherWay makes the plan that of a handler beside the main one.
func (p *Cases) otherWay(ctx context.Context, q store.Q, w *looking) error {
	h := &w.hands
	main := w.Plan
	known, err := w.GoesTo(ctx, q, h.with.ID)
	if err != nil {
		return err
	}
	if !known {
		h.refuses = h.with.Name + " has not handled it yet: a first session says where they begin."
		return nil
	}
	if !main.Finished() {
		h.to = main.Reached()
	}
	if h.to > 0 && w.Reached() >= h.to {
		h.refuses = fmt.Sprintf("%s has come as far as %s.", h.with.Name, h.main)
	}
	return nil
}

// AloneView is by when somebody has come as far as the main handler, while it is worked out or after that.
type AloneView struct {
	Running bool   `json:"running"`
	Part    int    `json:"part"` // %
	Says    string `json:"says"`
}

// Alone is the forecast of a handler beside the main one, in a sentence.
func (p *Cases) Alone(ctx context.Context, ask Ask) (AloneView, error) {
	v, err := p.Outlook(ctx, ask)
	switch {
	case err != nil:
		return AloneView{}, err
	case v.Refuses != "":
		return AloneView{Says: v.Refuses}, nil
	case !v.Forecast.Ready:
		return AloneView{Running: v.Forecast.Running, Part: v.Forecast.Part}, nil
	}
	return AloneView{Says: strings.TrimSpace(v.Sentence + " " + v.When)}, nil
}
