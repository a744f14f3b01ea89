package figures

import "math"

// NeedNode is one skill of a dog on the map of prerequisites.
type NeedNode struct {
	ID, Name string
	Planned  bool    // the dog has a plan for it
	Part     float64 // 0…1 of its steps
	Finished bool
}

// NeedEdge says that To needs From. Met: it is met; Waived: the trainer goes on without it.
type NeedEdge struct {
	From, To    string // ids
	Met, Waived bool
	Text        string
}

// NeedBox is a node as drawn.
type NeedBox struct {
	NeedNode
	X, Y, W, H float64
	TextX      float64
	TextY      float64
	Bar        float64 // width of what is climbed
}

// NeedLine is an edge as drawn.
type NeedLine struct {
	NeedEdge
	Path string
}

// Needs is the map: what needs nothing on the left, what builds on it to the right.
type Needs struct {
	W, H  float64
	Boxes []NeedBox
	Lines []NeedLine
}

// Sizes of the map.
const (
	needW, needH       = 190.0, 46.0
	needGapX, needGapY = 56.0, 16.0
	needLetters        = 24
)

// DrawNeeds lays skills out in columns: each is right of everything it needs. Skills that nothing
// connects are left out. A circle of needs ends where it closes.
func DrawNeeds(nodes []NeedNode, edges []NeedEdge) Needs {
	needs := map[string][]string{}
	touched := map[string]bool{}
	for _, e := range edges {
		needs[e.To] = append(needs[e.To], e.From)
		touched[e.From], touched[e.To] = true, true
	}
	depth := map[string]int{}
	var rank func(id string, seen map[string]bool) int
	rank = func(id string, seen map[string]bool) int {
		if d, known := depth[id]; known {
			return d
		}
		if seen[id] {
			return 0
		}
		seen[id] = true
		d := 0
		for _, from := range needs[id] {
			d = max(d, rank(from, seen)+1)
		}
		delete(seen, id)
		depth[id] = d
		return d
	}
	var f Needs
	filled := map[int]int{}
	at := map[string]NeedBox{}
	for _, n := range nodes {
		if !touched[n.ID] {
			continue
		}
		column := rank(n.ID, map[string]bool{})
		box := NeedBox{NeedNode: n, W: needW, H: needH, X: float64(column) * (needW + needGapX), Y: 4 + float64(filled[column])*(needH+needGapY)}
		filled[column]++
		box.TextX, box.TextY = box.X+10, box.Y+needH/2+2
		box.Bar = math.Max(0, math.Min(1, n.Part)) * (needW - 20)
		box.Name = clip(n.Name, needLetters)
		at[n.ID] = box
		f.Boxes = append(f.Boxes, box)
		f.W, f.H = math.Max(f.W, box.X+needW+2), math.Max(f.H, box.Y+needH+4)
	}
	for _, e := range edges {
		from, to := at[e.From], at[e.To]
		if from.ID == "" || to.ID == "" {
			continue
		}
		var line path
		line.to(from.X+from.W, from.Y+needH/2)
		line.to(from.X+from.W+needGapX/3, from.Y+needH/2)
		line.to(to.X-needGapX/3, to.Y+needH/2)
		line.to(to.X, to.Y+needH/2)
		f.Lines = append(f.Lines, NeedLine{e, line.String()})
	}
	return f
}
