package figures_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/internal/web/figures"
)

func TestWhatIsNeededStandsLeft(t *testing.T) {
	nodes := []figures.NeedNode{
		{ID: "throw", Name: "Steady for a throw"}, {ID: "stay", Name: "Stay", Planned: true, Part: 0.5}, {ID: "mat", Name: "Mat"},
		{ID: "alone", Name: "Alone"},
	}
	edges := []figures.NeedEdge{{From: "stay", To: "throw"}, {From: "mat", To: "stay", Met: true}}
	f := figures.DrawNeeds(nodes, edges)
	golden(t, "needs", f)
	at := map[string]figures.NeedBox{}
	for _, b := range f.Boxes {
		at[b.ID] = b
	}
	require.Len(t, at, 3, "what nothing connects is left out")
	require.Less(t, at["mat"].X, at["stay"].X)
	require.Less(t, at["stay"].X, at["throw"].X)
	require.Len(t, f.Lines, 2)
	require.Empty(t, figures.DrawNeeds(nodes, nil).Boxes)
	round := figures.DrawNeeds(nodes, append(edges, figures.NeedEdge{From: "throw", To: "mat"}))
	require.Len(t, round.Boxes, 3, "a circle is drawn and ends")
}
