package web_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/internal/practicetest"
)

func TestCareIsAddedLoggedAndTakenBack(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	_, dog := s.LayOut(t, "2, 4")
	page := "/dogs/" + dog + "/care"
	require.Contains(t, s.get(page).Body, "No plan of handling yet")
	a := s.post(page, page+"/tasks", map[string]string{"task": "<b>Claws</b>", "sites": "left fore, right fore", "every": "21", "days": "-3"})
	require.Equal(t, 422, a.Status)
	require.Contains(t, a.Body, "A whole number from 1 to 60.")
	require.Contains(t, a.Body, `value="left fore, right fore"`, "what was typed is kept")
	claws := map[string]string{"task": "<b>Claws</b>", "sites": "left fore, right fore", "every": "21"}
	require.Equal(t, 303, s.post(page, page+"/tasks", claws).Status)
	body := s.get(page).Body
	require.Contains(t, body, "&lt;b&gt;Claws&lt;/b&gt;")
	require.Contains(t, body, "Due today.")
	require.Contains(t, s.get("/").Body, "&lt;b&gt;Claws&lt;/b&gt;", "Today says so")
	task := first(t, body, `id="task-([^"]+)"`)
	changed := map[string]string{"id": task, "version": "1", "task": "<b>Claws</b>", "sites": "left fore, right fore", "every": "14"}
	require.Equal(t, 303, s.post(page, page+"/tasks", changed).Status)
	require.Contains(t, s.get(page).Body, "every 14 days")
	changed["every"] = "10"
	a = s.post(page, page+"/tasks", changed)
	require.Equal(t, 409, a.Status, "somebody changed it meanwhile")
	require.Contains(t, a.Body, "It now says: 14")
	require.Contains(t, a.Body, `value="10"`)
	require.Equal(t, 404, s.post(page, page+"/tasks", map[string]string{"id": "none", "task": "x", "sites": "y", "every": "3"}).Status)
	a = s.post(page, page+"/tasks/"+task, map[string]string{"site": "a fifth paw", "amount": "the tip"})
	require.Equal(t, 422, a.Status)
	require.Contains(t, a.Body, "Choose one of the list.")
	require.Contains(t, a.Body, `value="the tip"`)
	half := map[string]string{"site": "left fore", "amount": "the <i>tip</i>", "left": "on"}
	require.Equal(t, 303, s.post(page, page+"/tasks/"+task, half).Status)
	body = s.get(page).Body
	require.Contains(t, body, "Due today: right fore.")
	require.Contains(t, body, "the &lt;i&gt;tip&lt;/i&gt;, something left over")
	done := first(t, body, `/care/done/([^/]+)/away`)
	require.Equal(t, 303, s.post(page, page+"/done/"+done+"/away", nil).Status)
	require.Equal(t, 404, s.post(page, page+"/done/"+done+"/away", nil).Status, "it is taken back already")
	a = s.post(page, page+"/tasks/"+task+"/away", nil)
	require.Equal(t, 303, a.Status)
	require.NotContains(t, s.get(page).Body, "Claws&lt;")
	away := a.Header.Get("Location")
	require.Equal(t, 303, s.post(away, page+"/tasks/"+task+"/away", map[string]string{"back": "1"}).Status)
	require.Contains(t, s.get(page).Body, "Claws&lt;")
	require.Equal(t, 404, s.get("/dogs/nobody/care").Status)
}
