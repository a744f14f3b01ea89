package journal

import (
	"maps"
	"slices"
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/internal/store"
)

// Whatever the store keeps a journal of has words here, and stands in an area that the page offers.
func TestEveryTableOfTheJournalHasWords(t *testing.T) {
	spoken := slices.Sorted(maps.Keys(tables))
	for _, table := range store.Journaled() {
		require.Contains(t, spoken, table)
	}
	var offered []string
	for _, area := range areas {
		offered = append(offered, area.code)
	}
	for what, table := range tables {
		require.Contains(t, offered, table.area, what)
		require.NotNil(t, table.name, what)
	}
}
