package app

import "patientfox/core/evidence"

// Table is a table as a page shows it and as it leaves as CSV: the same words in both.
type Table struct {
	Key   string // names it in the address of its file
	Title string
	Head  []string
	Rows  [][]string
}

func (t *Table) Add(cells ...string) { t.Rows = append(t.Rows, cells) }

// Section is a part of a page: what is said, and the table behind it.
type Section struct {
	Key, Title string
	Lines      []string
	Small      string // where the numbers are small
	Rates      []RateRow
	Rests      []Rest
	Table      *Table
}

// RateRow is one row of rates that are drawn with their ranges: a rate, or one of each that are compared.
type RateRow struct {
	Label string
	Rates []Rate
}

// Rate is one of them, with its 95 % range.
type Rate struct {
	Name   string // "" where there is one alone
	Met, N int
	evidence.Interval
}

// RateOf is a tally's.
func RateOf(name string, t evidence.Tally) Rate {
	return Rate{name, t.Met, t.N(), evidence.Wilson(t.Met, t.N(), 0.95)}
}

// Rest is what is left of a session's rate when practice is taken out, −1…1.
type Rest struct {
	Session, Day, Place string
	Value               float64
}

// FindTable looks for a table by its key.
func FindTable(sections []Section, key string) (Table, error) {
	for _, s := range sections {
		if s.Table != nil && s.Table.Key == key {
			return *s.Table, nil
		}
	}
	return Table{}, ErrNotFound
}
