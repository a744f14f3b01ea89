package practice_test

import (
	"bytes"
	"net/mail"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/app/homework"
	"patientfox/internal/practicetest"
	"patientfox/internal/store"
)

// A sheet goes out by post, is answered, and its lines are entered once; what is no answer is refused and nothing is kept of it.
func TestHomeworkGoesByPost(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog, me, kes := withKes(t, o)
	heldBy(t, o, plan, me, trial.Roles{}, work.Main, work.Main)
	require.NoError(t, o.Give(ctx, dog, form.Typed{"with": kes, "skills": plan, "line": "Short, “and often” 🦊"}))
	sheet, err := o.Homework(ctx, dog, homework.Asked{With: kes})
	require.NoError(t, err)
	require.NoError(t, o.PostSheet(ctx, sheet, []byte("<p>the sheet</p>")))
	box := func() homework.Post {
		t.Helper()
		v, err := o.Post(ctx)
		require.NoError(t, err)
		return v
	}
	require.Len(t, box().Out, 1)
	out := box().Out[0]
	require.Equal(t, []any{"Kes, “K.”", true}, []any{out.Who, out.Homework})
	require.Contains(t, out.Text, "Short, “and often” 🦊")
	raw, err := o.LetterFile(ctx, out.ID)
	require.NoError(t, err)
	m, err := mail.ReadMessage(bytes.NewReader(raw))
	require.NoError(t, err)
	require.Equal(t, "<"+out.ID+"@post.invalid>", m.Header.Get("Message-Id"))

	require.NoError(t, o.Answer(ctx, out.ID, form.Typed{"text": "Hello!\nWait 6 of 5 hall, “slipped” 🐾"}))
	in := box().In[0]
	require.Equal(t, "Hello!\nWait 6 of 5 hall, “slipped” 🐾", in.Text, "without what it quotes")
	var invalid *form.Invalid
	require.ErrorAs(t, o.EnterLetter(ctx, in.ID, form.Typed{"lines": in.Lines()}), &invalid)
	require.Contains(t, invalid.Problems, "lines")
	require.Empty(t, box().In[0].Entered)
	for range 2 {
		require.NoError(t, o.EnterLetter(ctx, in.ID, form.Typed{"lines": "Wait 5 of 5 hall, “slipped” 🐾"}))
	}
	require.NotEmpty(t, box().In[0].Entered)
	rows, err := o.Store.Read().ReturnedTo(ctx, plan)
	require.NoError(t, err)
	require.Len(t, rows, 1)
	require.Equal(t, []any{store.CameByPost, kes, 5, "“slipped” 🐾"}, []any{rows[0].Came, rows[0].Person, rows[0].Met, rows[0].Remark})

	answer, err := o.LetterFile(ctx, in.ID)
	require.NoError(t, err)
	for name, raw := range map[string][]byte{"twice": answer, "ours": raw, "none": []byte("no letter"), "empty": nil} {
		require.ErrorAs(t, o.ReceiveLetter(ctx, raw), &invalid, name)
		require.Contains(t, invalid.Problems, "letter", name)
	}
	require.ErrorAs(t, o.Answer(ctx, out.ID, form.Typed{"text": " "}), &invalid)
	require.ErrorIs(t, o.Answer(ctx, in.ID, form.Typed{"text": "x"}), app.ErrNotFound)
	require.ErrorIs(t, o.EnterLetter(ctx, "none", form.Typed{}), app.ErrNotFound)
	require.NoError(t, o.EnterLetter(ctx, out.ID, form.Typed{"lines": "Wait 5 of 5"}))
	require.Len(t, box().In, 1)
	rows, err = o.Store.Read().ReturnedTo(ctx, plan)
	require.NoError(t, err)
	require.Len(t, rows, 1, "a letter that was sent has no lines")
}

// A recap goes out as the trainer left it, and not before.
func TestARecapGoesByPost(t *testing.T) {
	o := practicetest.Empty(t)
	plan, dog, me, _ := withKes(t, o)
	heldBy(t, o, plan, me, trial.Roles{}, work.Main, work.Main)
	var invalid *form.Invalid
	require.ErrorAs(t, o.PostRecap(ctx, dog, ""), &invalid)
	v, err := o.Recap(ctx, dog, "", false)
	require.NoError(t, err)
	typed := v.Form
	typed["line"] = "See you on the ramp, “all of you”"
	require.NoError(t, o.SaveRecap(ctx, dog, typed))
	require.NoError(t, o.PostRecap(ctx, dog, v.To))
	post, err := o.Post(ctx)
	require.NoError(t, err)
	require.Len(t, post.Out, 1)
	for _, says := range []string{typed["line"], v.Praise, v.Skills[0].Text} {
		require.Contains(t, post.Out[0].Text, says)
	}
	require.False(t, post.Out[0].Homework)
}
