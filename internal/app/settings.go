package app

import (
	"context"
	"patientfox/internal/store"
)

// Named is something with a name.
type Named struct{ ID, Name string }

// people lists who is known, and their names by their ids.
func People(ctx context.Context, q store.Q) (list []Named, names map[string]string, err error) {
	rows, err := q.People(ctx)
	names = map[string]string{}
	for _, one := range rows {
		list, names[one.ID] = append(list, Named{one.ID, one.Name}), one.Name
	}
	return list, names, err
}
