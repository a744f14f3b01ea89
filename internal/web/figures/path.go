package figures

import "strconv"

// path builds the data of an SVG path, to a tenth of a unit.
type path struct{ data []byte }

func (p *path) point(command byte, x, y float64) {
	p.data = append(p.data, command)
	p.data = strconv.AppendFloat(p.data, x, 'f', 1, 64)
	p.data = append(p.data, ' ')
	p.data = strconv.AppendFloat(p.data, y, 'f', 1, 64)
}

// to goes on to a point; the first one begins the path.
func (p *path) to(x, y float64) {
	if len(p.data) == 0 {
		p.point('M', x, y)
		return
	}
	p.point('L', x, y)
}

// stroke draws a short vertical line.
func (p *path) stroke(x, y, length float64) {
	p.point('M', x, y)
	p.data = append(p.data, 'v')
	p.data = strconv.AppendFloat(p.data, length, 'f', -1, 64)
}

func (p *path) String() string { return string(p.data) }
