package progression

import "slices"

// Heights gives the height of each step, in steps as they were first laid out: one that was put in between two
// later is half way between them, one put on top a step higher. versions are the plan's, oldest first, each
// the ids of its steps, easiest first. Heights only ever rise: steps that were put in another order since
// are half a step apart.
func Heights(versions [][]string, steps []Step) []float64 {
	height := map[string]float64{}
	for v, list := range versions {
		for i, id := range list {
			if _, known := height[id]; known {
				continue
			}
			above := slices.IndexFunc(list[i:], func(o string) bool { _, known := height[o]; return known })
			switch {
			case v == 0:
				height[id] = float64(i)
			case above > 0 && i > 0:
				height[id] = (height[list[i-1]] + height[list[i+above]]) / 2
			case above > 0:
				height[id] = height[list[above]] - 0.5
			default:
				height[id] = height[list[max(0, i-1)]] + 1
			}
		}
	}
	heights := make([]float64, len(steps))
	for i, s := range steps {
		known := false
		if heights[i], known = height[s.ID]; !known {
			heights[i] = float64(i)
		}
		if i > 0 && heights[i] <= heights[i-1] {
			heights[i] = heights[i-1] + 0.5
		}
	}
	return heights
}
