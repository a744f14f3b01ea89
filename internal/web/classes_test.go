package web_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/internal/app/form"
	"patientfox/internal/practicetest"
)

// newClass begins a class of all dogs of a practice, and answers with its id.
func newClass(t testing.TB, o *practicetest.Opened) string {
	t.Helper()
	v, err := o.NewClass(ctx)
	require.NoError(t, err)
	typed := form.Typed{"name": "Saturday", "programme": "first-manners", "start": v.Today, "minutes": "60"}
	for _, dog := range v.Dogs {
		typed["dog_"+dog.ID] = "1"
	}
	id, err := o.AddClass(ctx, typed)
	require.NoError(t, err)
	return id
}

func TestAClassByItsForms(t *testing.T) {
	o := practicetest.Empty(t)
	dog, err := o.AddDog(ctx, form.Typed{"name": "Dab <b>"})
	require.NoError(t, err)
	other, err := o.AddDog(ctx, form.Typed{"name": "Whelk"})
	require.NoError(t, err)
	s := serve(t, o)
	typed := map[string]string{"name": "Pups “one”", "programme": "puppy-start", "start": "2026-11-23", "minutes": "ten", "dog_" + dog: "1"}
	bad := s.post("/classes/new", "/classes/new", typed)
	require.Equal(t, 422, bad.Status)
	require.Contains(t, bad.Body, "Pups “one”")
	require.Contains(t, bad.Body, `name="dog_`+dog+`" value="1" checked`)
	typed["minutes"] = "45"
	made := s.post("/classes/new", "/classes/new", typed)
	require.Equal(t, 303, made.Status)
	at := made.Header.Get("Location")
	require.Contains(t, s.get(at).Body, "Dab &lt;b&gt;")
	require.Equal(t, 422, s.post(at, at+"/dogs", nil).Status)
	require.Equal(t, 303, s.post(at, at+"/dogs", map[string]string{"dog_" + other: "1"}).Status)
	require.Equal(t, 303, s.post(at, at+"/meeting", map[string]string{"week": "1", "version": "0", "dog_" + other: "1"}).Status)
	require.Equal(t, 409, s.post(at, at+"/meeting", map[string]string{"week": "1", "version": "0", "note": "mine"}).Status)
	require.Equal(t, 422, s.post(at, at+"/edit", map[string]string{"name": "", "version": "1"}).Status)
	require.Equal(t, 303, s.post(at, at+"/dogs/"+other+"/leave", nil).Status)
	require.Equal(t, 404, s.post(at, at+"/dogs/"+other+"/leave", nil).Status)
	require.Equal(t, 303, s.post(at, at+"/away", nil).Status)
	require.Equal(t, 404, s.get(at).Status)
	require.Equal(t, 404, s.get("/programmes/none").Status)
	file := s.get("/programmes/recall/file")
	require.Equal(t, 200, file.Status)
	require.Equal(t, `attachment; filename="coming-when-called.json"`, file.Header.Get("Content-Disposition"))
	none := s.post("/programmes", "/programmes", nil)
	require.Equal(t, 422, none.Status)
	require.Contains(t, none.Body, "Choose the file of a programme")
}
