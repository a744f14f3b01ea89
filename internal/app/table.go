package app

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
	Table      *Table
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
