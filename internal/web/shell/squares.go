package shell

import (
	"html/template"
	"strings"

	"rsc.io/qr"
)

// Squares is a link as squares to be photographed, with the quiet edge that cameras need.
func Squares(link string) (template.HTML, error) {
	code, err := qr.Encode(link, qr.M)
	if err != nil {
		return "", err
	}
	var path strings.Builder
	for y := range code.Size {
		for x := range code.Size {
			if code.Black(x, y) {
				path.WriteString("M" + Figure(x+4) + " " + Figure(y+4) + "h1v1h-1z")
			}
		}
	}
	size := Figure(code.Size + 8)
	return template.HTML(`<svg class="squares" viewBox="0 0 ` + size + ` ` + size +
			`" role="img" aria-label="The link as a code to photograph"><path class="ground" d="M0 0h` + size + `v` + size +
			`H0z"/><path d="` + path.String() + `"/></svg>`),
		nil //nolint:gosec // figures only
}
