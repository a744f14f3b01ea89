package exchange

import (
	"bytes"
	"encoding/csv"
	"strings"
)

// CSV writes a table as RFC 4180 says, with a byte order mark so that spreadsheets read it as UTF-8. A cell that
// a spreadsheet would take for a formula gets an apostrophe before it: names are typed by people.
func CSV(head []string, rows [][]string) []byte {
	var out bytes.Buffer
	out.WriteString("\ufeff")
	w := csv.NewWriter(&out)
	w.UseCRLF = true
	for _, row := range append([][]string{head}, rows...) {
		cells := make([]string, len(row))
		for i, cell := range row {
			cells[i] = plain(cell)
		}
		w.Write(cells) //nolint:errcheck // a buffer takes everything
	}
	w.Flush()
	return out.Bytes()
}

func plain(cell string) string {
	if cell != "" && strings.ContainsRune("=+-@\t\r", rune(cell[0])) {
		return "'" + cell
	}
	return cell
}
