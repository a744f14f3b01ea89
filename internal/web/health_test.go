package web_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/internal/practicetest"
)

func TestHealthIsAddedEndedAndPutAway(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	_, dog := s.LayOut(t, "2, 4")
	page := "/dogs/" + dog + "/health"
	a := s.post(page, page, map[string]string{"kind": "medicine", "what": "<b>drops</b>", "over": "soon"})
	require.Equal(t, 422, a.Status)
	require.Contains(t, a.Body, "Which veterinarian said so")
	require.Contains(t, a.Body, `value="&lt;b&gt;drops&lt;/b&gt;"`, "what was typed is kept")
	require.Contains(t, a.Body, `value="soon"`)
	require.Equal(t, 303, s.post(page, page, map[string]string{"kind": "sore", "what": "<b>hip</b>", "said": "stiff; “since Monday”"}).Status)
	body := s.get(page).Body
	require.Contains(t, body, "&lt;b&gt;hip&lt;/b&gt;")
	require.Contains(t, s.get("/dogs/"+dog).Body, "is sore: &lt;b&gt;hip&lt;/b&gt;.")
	one := first(t, body, `/health/([^/]+)/over`)
	a = s.post(page, page+"/"+one+"/over", map[string]string{"over": "1999-01-01"})
	require.Equal(t, 422, a.Status)
	require.Contains(t, a.Body, "A day from its first up to today")
	require.Equal(t, 303, s.post(page, page+"/"+one+"/over", nil).Status)
	require.NotContains(t, s.get("/dogs/"+dog).Body, "is sore")
	a = s.post(page, page+"/"+one+"/away", nil)
	require.Equal(t, 303, a.Status)
	require.Equal(t, 303, s.post(a.Header.Get("Location"), page+"/"+one+"/away", map[string]string{"back": "1"}).Status)
	a = s.post(page, "/dogs/"+dog+"/contacts", map[string]string{"photos": "yes", "vet": "the green door", "version": "0"})
	require.Equal(t, 422, a.Status)
	require.Contains(t, a.Body, "Say who said so, and when.")
	require.Contains(t, a.Body, "the green door")
	require.Equal(t, 404, s.post(page, page, map[string]string{"kind": "horoscope"}).Status)
	require.Equal(t, 404, s.post(page, page+"/none/over", nil).Status)
	require.Equal(t, 404, s.get("/dogs/nobody/health").Status)
}
