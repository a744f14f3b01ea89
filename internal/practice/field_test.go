package practice_test

import (
	"fmt"
	"strconv"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/criteria"
	"patientfox/core/session"
	"patientfox/core/work"
	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// versioned is a form of a plan, with the version that it changes.
func versioned(t *testing.T, o *practicetest.Opened, plan string, typed form.Typed) form.Typed {
	t.Helper()
	o.CatchUp(t)
	v, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	typed["version"] = fmt.Sprint(v.Version)
	return typed
}

// What hands and eyes can tell of trials stands in the evidence as it was said: errors by step, prompts, the handler's mistakes, cards,
// arousal against stops, life rewards.
func TestWhatWasSaidStandsInTheEvidence(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Brine"})
	require.NoError(t, err)
	plan, err := o.AddPlan(ctx, dog, form.Typed{
		"skill": "Stay for the buoy", "kind": "steadiness", "position": "as sent", "leg1_make": "figures", "leg1_what": "lead",
		"leg1_items": "2, 1, 0",
	})
	require.NoError(t, err)
	errors := form.Typed{"error1": "crept, “an inch”", "spoils1": "on", "error2": "whined 🐾"}
	require.NoError(t, o.SaveErrors(ctx, plan, versioned(t, o, plan, errors)))
	invalid(t, o.SaveErrors(ctx, plan, versioned(t, o, plan, form.Typed{"error1": "x", "error2": " X "})), "errors")
	require.NoError(t, o.SaveDeck(ctx, plan, versioned(t, o, plan, form.Typed{"deck_lead": "2, 0", "deck_out": "3, 6"})))
	invalid(t, o.SaveDeck(ctx, plan, versioned(t, o, plan, form.Typed{"deck_lead": "2"})), "deck")
	invalid(t, o.SaveRest(ctx, plan, versioned(t, o, plan, form.Typed{"rest_min": "0.1"})), "rest_min")
	invalid(t, o.SaveDecoys(ctx, plan, versioned(t, o, plan, form.Typed{"decoy_in": "1"})), "decoy_in")
	shown, err := o.Plan(ctx, plan)
	require.NoError(t, err)
	require.Equal(t, []any{4, "whined 🐾"}, []any{shown.Cards, shown.ErrorsForm["error2"]})

	h := o.Session(t, plan, session.Choice{Pieces: "40", Deck: true})
	at, helped, own := int64(1000), false, 0
	for i := range 9 {
		_, card := h.Run.Card()
		h.Press(work.Main, at)                            // the signal, with both at once the distraction too
		if i > 2 && !helped && card[criteria.Lead] == 2 { // as the step plans it
			helped = true
			h.Press(work.HelpKey, at+500)
			h.Press(work.HelpKey, at+900)
		} else if card[criteria.Lead] == 2 && i != 1 {
			own++
		}
		h.Press(work.Main, at+2000)
		if h.Run.Phase() == session.Trying {
			h.Press(work.Main, at+6000)
		}
		switch i {
		case 1:
			h.Press("error:crept, “an inch”", at+7000)
			h.Press(work.MistakeKey, at+7500)
			h.Press("mistake:moved", at+7800)
		case 2:
			h.Press("error:whined 🐾", at+7000)
		}
		h.Press(work.PromptOf+"step in", at+7900) // of the one that was helped
		if h.Run.Phase() == session.Deciding {
			h.Press(work.StayKey, at+8000)
		}
		at += 20000
	}
	h.Press(work.ArousalOf+"2", at+9800)
	h.Press(work.JackpotKey, at+9900)
	o.End(t, h, at+20000, session.Closing{Reason: "stop"})

	o.CatchUp(t)
	v, err := o.Evidence(ctx, plan, "")
	require.NoError(t, err)
	named := section(t, v, "named")
	require.Equal(t, []string{"Step", "Trials", "Crept, “an inch”", "Whined 🐾"}, named.Table.Head)
	require.Equal(t, []string{"1", "9", "1", "1"}, named.Table.Rows[0])
	require.Contains(t, section(t, v, "mistakes").Lines[0], "In 1 of 9 trials: moved 1.")
	prompts := strconv.FormatFloat(2/float64(own+1), 'f', 2, 64)
	require.Equal(t, []string{"1", strconv.Itoa(own), "0", "1", prompts}, section(t, v, "help").Table.Rows[0],
		"two prompts in all; cards that are not the step are in no rate")
	require.Contains(t, strings.Join(section(t, v, "help").Lines, " "), "step in 1")
	cards := section(t, v, "cards")
	require.Len(t, cards.Table.Rows, 4)
	dealt := 0
	for _, row := range cards.Table.Rows {
		var n int
		_, err := fmt.Sscan(row[2], &n)
		require.NoError(t, err)
		dealt += n
	}
	require.Equal(t, 9, dealt)
	arousal := section(t, v, "arousal")
	require.Equal(t, []string{"Over-excited", "1", "1"}, arousal.Table.Rows[2])
	review, err := o.Review(ctx, h.Session)
	require.NoError(t, err)
	require.Contains(t, review.PayLine, "1 jackpot")
	require.Contains(t, review.Table[0].Note, "card: ")
	require.Len(t, review.Cards, 4)
}
