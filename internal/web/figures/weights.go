package figures

import "fmt"

// WeightIn is what a dog weighed (kg), some days after the first time.
type WeightIn struct {
	Day int
	Kg  float64
}

// Weights is a line of weights over time.
type Weights struct {
	W, H   float64
	Path   string
	Points []struct{ X, Y float64 }
	Lo, Hi float64 // kg, the ends of the scale
}

// DrawWeights draws weights in the order of their days; nothing of fewer than two.
func DrawWeights(w, h float64, in []WeightIn) (fig Weights) {
	if len(in) < 2 {
		return fig
	}
	const edge = 6
	fig = Weights{W: w, H: h, Lo: in[0].Kg, Hi: in[0].Kg}
	for _, one := range in {
		fig.Lo, fig.Hi = min(fig.Lo, one.Kg), max(fig.Hi, one.Kg)
	}
	days, span := float64(max(1, in[len(in)-1].Day-in[0].Day)), max(fig.Hi-fig.Lo, 0.1)
	for i, one := range in {
		x := edge + (w-2*edge)*float64(one.Day-in[0].Day)/days
		y := h - edge - (h-2*edge)*(one.Kg-fig.Lo)/span
		fig.Points = append(fig.Points, struct{ X, Y float64 }{x, y})
		fig.Path += fmt.Sprintf("%s%.1f %.1f", map[bool]string{true: "M", false: "L"}[i == 0], x, y)
	}
	return fig
}
