package figures_test

import (
	"fmt"
	"math"
	"strings"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/internal/web/figures"
)

func metres(m float64) string { return fmt.Sprintf("%g m", m) }

func gulls() figures.ContoursIn {
	return figures.ContoursIn{
		Base: 1, PerDoubling: 0.6, PerLevel: -0.7, Near: 12, Far: 40, Strongest: 2, Metres: metres,
		Spots: []figures.SpotIn{
			{Metres: 40, Level: 2, Met: 9, N: 12}, {Metres: 12, Level: 2, Met: 0, N: 3}, {Metres: 20, Level: 1, Met: 4, N: 4},
		},
		At: &figures.SpotIn{Metres: 12, Level: 2},
	}
}

func TestContours(t *testing.T) {
	golden(t, "contours", figures.DrawContours(760, gulls()))
	golden(t, "effect", figures.DrawEffect(220, 30, -0.7, -1.1, -0.3))
	golden(t, "reliability", figures.DrawReliability(420, []figures.TenthIn{{Said: 0.72, Came: 0.65, Lo: 0.5, Hi: 0.8, N: 20}}))
	golden(t, "rate", figures.DrawRate(240, 22, 0.6, 0.23, 0.88))
	golden(t, "rests", figures.DrawRests(760, []figures.RestIn{
		{Place: "the net shed", Value: 0.2}, {Place: "the net shed", Value: -0.9}, {Place: "the ferry ramp", Value: 0}, {Place: "a", Value: 0.1},
	}))
	nothing := gulls()
	nothing.Near, nothing.Far, nothing.Strongest, nothing.Spots, nothing.At = 0, 0, 0, nil, nil
	f := figures.DrawContours(760, nothing)
	require.Len(t, f.Unknown, 1, "all of it is beyond what was tried")
	sure := gulls()
	sure.Base = 20
	require.Empty(t, figures.DrawContours(760, sure).Lines, "no line where the dog is sure everywhere")
	require.Len(t, figures.DrawContours(760, sure).Areas, 3)
}

// Whatever a model says, everything lies in the drawing, and there is no figure that is none.
func TestContoursStayInTheirFrame(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		in := gulls()
		in.Base = rapid.Float64Range(-8, 8).Draw(t, "base")
		in.PerDoubling = rapid.Float64Range(0, 3).Draw(t, "doubling")
		in.PerLevel = rapid.Float64Range(-3, 0).Draw(t, "level")
		for range rapid.IntRange(0, 5).Draw(t, "spots") {
			n := rapid.IntRange(1, 50).Draw(t, "n")
			in.Spots = append(in.Spots, figures.SpotIn{
				Metres: rapid.Float64Range(0.5, 300).Draw(t, "m"), Level: float64(rapid.IntRange(1, 5).Draw(t, "strength")), N: n,
				Met: rapid.IntRange(0, n).Draw(t, "met"),
			})
		}
		f := figures.DrawContours(760, in)
		require.LessOrEqual(t, len(f.Areas), 3)
		for _, label := range f.Lines {
			require.True(t, label.X >= f.X && label.X <= f.X+f.Wide && label.Y >= f.Y && label.Y <= f.Y+f.High, "%+v", label)
		}
		for _, a := range f.Areas {
			require.NotContains(t, strings.ToLower(a.Path), "nan")
			require.NotContains(t, strings.ToLower(a.Path), "inf")
		}
		for _, s := range f.Spots {
			require.False(t, math.IsNaN(s.X+s.Y+s.R))
		}
	})
}
