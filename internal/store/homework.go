package store

import "context"

// WorriedSince lists those of some plans in whose sessions the dog was worried or over its threshold on a day or after it, YYYY-MM-DD.
func (q Q) WorriedSince(ctx context.Context, plans []string, day string) (list []string, err error) {
	if len(plans) == 0 {
		return nil, nil
	}
	err = q.in(ctx, &list, `SELECT DISTINCT t.plan FROM trials t JOIN sessions s ON s.id = t.session
		WHERE s.deleted IS NULL AND t.counts AND t.state >= 3 AND s.day >= ? AND t.plan IN (?)`, day, plans)
	return list, err
}
