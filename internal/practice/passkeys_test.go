package practice_test

import (
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/internal/app"
	"patientfox/internal/app/people"
	"patientfox/internal/practicetest"
	"patientfox/internal/store"
)

// A passkey needs a name and a connection that nobody reads, or the machine itself.
func TestWherePasskeysAre(t *testing.T) {
	for _, one := range []struct {
		host, origin string
		can          bool
	}{
		{"quay.example", "https://quay.example:8420", true}, {"quay.example", "http://quay.example", false},
		{"localhost", "http://localhost:8420", true}, {"127.0.0.1", "http://127.0.0.1:8420", false},
		{"192.0.2.7", "https://192.0.2.7", false}, {"2001:db8::7", "https://[2001:db8::7]", false},
	} {
		require.Equal(t, one.can, people.Address{Host: one.host, Origin: one.origin}.Passkeys() == "", one.origin)
	}
}

// What a browser answers is taken once, in time, by whom it was asked of, and never where it is no answer; who tries again and again
// waits.
func TestAnAnswerThatIsNoPasskey(t *testing.T) {
	o := practicetest.Empty(t)
	here := people.Address{Host: "localhost", Origin: "http://localhost:8420"}
	s, err := o.Settings(ctx)
	require.NoError(t, err)
	me := s.People[0].ID
	_, err = o.MakePasskey(ctx, me, people.Address{Host: "192.0.2.7", Origin: "https://192.0.2.7"})
	require.ErrorIs(t, err, app.ErrNotFound)
	_, err = o.MakePasskey(ctx, "nobody", here)
	require.ErrorIs(t, err, app.ErrNotFound)

	asked := func() string {
		q, err := o.MakePasskey(ctx, me, here)
		require.NoError(t, err)
		require.NotEmpty(t, q.Token)
		return q.Token
	}
	for name, answers := range map[string]func() error{
		"guessed": func() error { return o.AddPasskey(ctx, me, here, "guessed", "x", []byte("{}")) },
		"garbage": func() error { return o.AddPasskey(ctx, me, here, asked(), "x", []byte(`{"id":`)) },
		"empty":   func() error { return o.AddPasskey(ctx, me, here, asked(), "x", nil) },
		"huge":    func() error { return o.AddPasskey(ctx, me, here, asked(), "x", make([]byte, 65<<10)) },
		"another": func() error { return o.AddPasskey(ctx, "another", here, asked(), "x", []byte("{}")) },
		"late": func() error {
			token := asked()
			o.Clock.Add(6 * time.Minute)
			return o.AddPasskey(ctx, me, here, token, "x", []byte("{}"))
		},
	} {
		require.True(t, people.PasskeyProblem(answers()), name)
	}
	keys, err := o.Store.Keys().PasskeysOf(ctx, me)
	require.NoError(t, err)
	require.Empty(t, keys)

	var soon *people.TooSoon
	for range 20 {
		q, err := o.AskPasskey(here)
		require.NoError(t, err)
		_, err = o.PasskeySignIn(ctx, "192.0.2.9", here, q.Token, "x", []byte("{}"))
		if !people.PasskeyProblem(err) {
			require.ErrorAs(t, err, &soon)
			break
		}
	}
	require.NotNil(t, soon, "nobody may try for ever")
}

// Who leaves, and whose password is taken away, has no passkey any more.
func TestPasskeysEndWithThePerson(t *testing.T) {
	o := practicetest.Empty(t)
	jorun := colleague(t, o, "Jorun Vale", "trainer")
	kept := func() int {
		keys, err := o.Store.Keys().PasskeysOf(ctx, jorun)
		require.NoError(t, err)
		return len(keys)
	}
	add := func() {
		require.NoError(t, o.Store.Keys().AddPasskey(ctx, store.Passkey{
			ID: []byte("a key"), Person: jorun, Name: "phone", Host: "localhost", Credential: "{}", Made: 1,
		}))
		require.Equal(t, 1, kept())
	}
	add()
	require.ErrorIs(t, o.DropPasskey(ctx, "another", "YSBrZXk"), app.ErrNotFound)
	require.ErrorIs(t, o.DropPasskey(ctx, jorun, "%"), app.ErrNotFound)
	require.NoError(t, o.DropPasskey(ctx, jorun, "YSBrZXk"))
	require.Zero(t, kept())
	add()
	_, err := o.ForgetPassword(ctx, "jorun vale")
	require.NoError(t, err)
	require.Zero(t, kept())
	add()
	require.NoError(t, o.Leave(ctx, jorun))
	require.Zero(t, kept())
}
