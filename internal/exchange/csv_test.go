package exchange_test

import (
	"bytes"
	"encoding/csv"
	"testing"

	"github.com/stretchr/testify/require"
	"pgregory.net/rapid"

	"patientfox/internal/exchange"
)

func TestATableComesBackFromItsFile(t *testing.T) {
	rapid.Check(t, func(t *rapid.T) {
		cell := rapid.StringMatching(`[a-z0-9 ,;"\n–%]{0,12}`)
		head := rapid.SliceOfN(cell, 3, 3).Draw(t, "head")
		rows := rapid.SliceOf(rapid.SliceOfN(cell, 3, 3)).Draw(t, "rows")
		raw := exchange.CSV(head, rows)
		require.True(t, bytes.HasPrefix(raw, []byte("\ufeff")))
		back, err := csv.NewReader(bytes.NewReader(raw[3:])).ReadAll()
		require.NoError(t, err)
		require.Equal(t, append([][]string{head}, rows...), back)
	})
}

func TestNoCellIsAFormula(t *testing.T) {
	raw := string(exchange.CSV([]string{"Name"}, [][]string{{"=1+1"}, {"@here"}, {"–"}, {"-2"}, {"Tansy"}}))
	require.Equal(t, "\ufeffName\r\n'=1+1\r\n'@here\r\n–\r\n'-2\r\nTansy\r\n", raw)
}
