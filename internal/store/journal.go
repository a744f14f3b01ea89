package store

import (
	"cmp"
	"context"
	"fmt"
	"maps"
	"slices"
	"strings"

	"github.com/jmoiron/sqlx"
)

// watched is a table whose changes the journal keeps. In its expressions "@" stands for the row.
type watched struct {
	table string
	id    string   // what the row goes by
	dog   string   // whose dog it concerns, "" for none
	only  []string // columns that matter; nil for all but those that say nothing by themselves
	long  []string // columns that are not kept: that they changed is
	adds  string   // which new rows matter; "" for all, "0" for none
	sets  string   // which changes matter; "" for all
}

const (
	ownDog  = "@.dog"
	planDog = "coalesce((SELECT dog FROM plans WHERE id = @.plan), '')"
	noDog   = "''"
)

// journal lists the tables whose changes are kept. What is made of other rows is not in it, nor the log of sessions, which says by itself
// who logged what.
var journal = []watched{
	{table: "practice", id: "''", dog: noDog},
	{table: "people", id: "@.id", dog: noDog},
	{table: "logins", id: "@.person", dog: noDog, only: []string{"person"}},
	{table: "places", id: "@.id", dog: noDog},
	{table: "dimensions", id: "@.key", dog: noDog},
	{table: "templates", id: "@.id", dog: noDog, only: []string{"name", "kind", "deleted"}},
	{table: "dogs", id: "@.id", dog: "@.id"},
	{table: "contacts", id: "@.dog", dog: ownDog},
	{table: "house", id: "@.dog", dog: ownDog},
	{table: "health", id: "@.id", dog: ownDog},
	{
		table: "definitions", id: "@.skill || '/' || @.version", dog: "coalesce((SELECT dog FROM plans WHERE skill = @.skill), '')",
		only: []string{"skill", "version"}, adds: "NEW.version > 1",
	},
	// Who handles a plan first is read from its log.
	{
		table: "plans", id: "@.id", dog: ownDog, only: []string{"skill", "track", "main_handler", "released", "deleted"},
		sets: "OLD.main_handler <> '' OR NEW.main_handler = ''",
	},
	{
		table: "plan_versions", id: "@.plan || '/' || @.version", dog: planDog, only: []string{"plan", "version", "why"},
		adds: "NEW.version > 1",
	},
	{table: "breaches", id: "@.id", dog: planDog},
	{table: "setbacks", id: "@.id", dog: planDog},
	{table: "shown", id: "@.id", dog: planDog},
	{table: "experiments", id: "@.id", dog: planDog},
	{table: "rewards", id: "@.id", dog: ownDog},
	{
		table: "reward_days", id: "@.reward || '/' || @.day", dog: "coalesce((SELECT dog FROM rewards WHERE id = @.reward), '')",
	},
	{table: "tests", id: "@.id", dog: ownDog, only: []string{"day", "done", "deleted"}},
	{table: "eaten", id: "@.id", dog: ownDog},
	{table: "sheets", id: "@.id", dog: ownDog, long: []string{"body"}},
	{
		table: "sessions", id: "@.id", dog: ownDog, only: []string{"day", "opened", "deleted"},
		adds: "0", sets: "OLD.deleted IS NOT NEW.deleted",
	},
	{table: "care_tasks", id: "@.id", dog: ownDog},
	{table: "care_done", id: "@.id", dog: "coalesce((SELECT dog FROM care_tasks WHERE id = @.task), '')"},
	{table: "care_marks", id: "@.dog || '/' || @.site", dog: ownDog},
	{table: "homework", id: "@.id", dog: ownDog},
	{table: "homework_lines", id: "@.id", dog: ownDog},
	{table: "recaps", id: "@.dog || '/' || @.day", dog: ownDog},
	{table: "letters", id: "@.id", dog: ownDog, only: []string{"box", "person", "subject", "entered"}},
	{table: "classes", id: "@.id", dog: noDog, long: []string{"programme"}},
	{table: "class_dogs", id: "@.class || '/' || @.dog", dog: ownDog, long: []string{"plans"}},
	{table: "class_meetings", id: "@.class || '/' || @.week", dog: noDog},
	{table: "programmes", id: "@.id", dog: noDog},
	{table: "assignments", id: "@.dog || '/' || @.day", dog: ownDog},
	{table: "notes", id: "@.id", dog: ownDog, only: []string{"plan", "whom", "text", "done"}},
}

// Journaled lists the tables whose changes the journal keeps.
func Journaled() []string {
	names := make([]string, len(journal))
	for i, w := range journal {
		names[i] = w.table
	}
	return names
}

// silent columns say nothing by themselves.
var silent = []string{"version", "made", "made_by"}

// triggers are the statements that keep the journal of a table with these columns, by their names.
func (w watched) triggers(columns []string) map[string]string {
	if w.only != nil {
		columns = w.only
	} else {
		columns = slices.DeleteFunc(slices.Clone(columns), func(c string) bool { return slices.Contains(silent, c) })
	}
	row := func(as string) string {
		var parts []string
		for _, c := range columns {
			if !slices.Contains(w.long, c) {
				parts = append(parts, fmt.Sprintf("'%s', %s.%s", c, as, c))
			}
		}
		return "json_object(" + strings.Join(parts, ", ") + ")"
	}
	var differ []string
	for _, c := range columns {
		differ = append(differ, fmt.Sprintf("OLD.%[1]s IS NOT NEW.%[1]s", c))
	}
	changes := "(" + strings.Join(differ, " OR ") + ")"
	if w.sets != "" {
		changes += " AND (" + w.sets + ")"
	}
	made := map[string]string{}
	for _, one := range []struct{ name, deed, as, when, was, became string }{
		{"added", "INSERT", "NEW", cmp.Or(w.adds, "1"), "NULL", row("NEW")},
		{"changed", "UPDATE", "NEW", changes, row("OLD"), row("NEW")},
		{"removed", "DELETE", "OLD", "1", row("OLD"), "NULL"},
	} {
		name := "journal_" + w.table + "_" + one.name
		made[name] = fmt.Sprintf(
			"CREATE TRIGGER %s AFTER %s ON %s WHEN %s BEGIN INSERT INTO journal (dog, what, id, was, became) VALUES (%s, '%s', %s, %s, %s); END",
			name, one.deed, w.table, one.when, strings.ReplaceAll(w.dog, "@", one.as), w.table, strings.ReplaceAll(w.id, "@", one.as),
			one.was, one.became,
		)
	}
	return made
}

// keepJournal makes the triggers that are missing, or that an older version of the program made, and drops those of tables that are not
// kept any more.
func keepJournal(ctx context.Context, db *sqlx.DB, at int64) error {
	wanted := map[string]string{}
	for _, w := range journal {
		var columns []string
		if err := db.SelectContext(ctx, &columns, `SELECT name FROM pragma_table_info(?) ORDER BY cid`, w.table); err != nil {
			return failed("pragma_table_info", err)
		}
		maps.Copy(wanted, w.triggers(columns))
	}
	// What is not signed yet was changed outside of the program's transactions: by a restore, or by hand.
	if _, err := db.ExecContext(ctx, sign, at, ""); err != nil {
		return failed("signing the journal", err)
	}
	there, err := journalTriggers(ctx, db)
	if err != nil || maps.Equal(there, wanted) {
		return err
	}
	tx, err := db.BeginTxx(ctx, nil)
	if err != nil {
		return failed("BEGIN", err)
	}
	defer tx.Rollback() //nolint:errcheck // after a commit there is nothing to roll back
	for name := range there {
		if _, err := tx.ExecContext(ctx, "DROP TRIGGER "+name); err != nil {
			return failed("DROP TRIGGER", err)
		}
	}
	for _, made := range wanted {
		if _, err := tx.ExecContext(ctx, made); err != nil {
			return failed("CREATE TRIGGER", err)
		}
	}
	return failed("COMMIT", tx.Commit())
}

// leaveJournal drops the triggers, before a change of the schema: what that does to rows is nobody's deed.
func leaveJournal(ctx context.Context, db *sqlx.DB) error {
	there, err := journalTriggers(ctx, db)
	for name := range there {
		if _, err := db.ExecContext(ctx, "DROP TRIGGER "+name); err != nil {
			return failed("DROP TRIGGER", err)
		}
	}
	return err
}

func journalTriggers(ctx context.Context, db *sqlx.DB) (map[string]string, error) {
	var rows []struct{ Name, SQL string }
	err := db.SelectContext(ctx, &rows, `SELECT name, sql FROM sqlite_master WHERE type = 'trigger'
		AND (name GLOB 'journal_*_added' OR name GLOB 'journal_*_changed' OR name GLOB 'journal_*_removed') AND tbl_name <> 'journal'`)
	there := map[string]string{}
	for _, row := range rows {
		there[row.Name] = row.SQL
	}
	return there, failed("reading triggers", err)
}

// sign says of what is not signed yet when it was done and by whom, as one deed: by the practice's own person where that is NULL.
const sign = `UPDATE journal SET at = ?, person = coalesce(?, (SELECT person FROM practice), ''),
	deed = (SELECT min(pos) FROM journal WHERE person IS NULL) WHERE person IS NULL`

// sign does so for what the transaction wrote.
func (q Q) sign(ctx context.Context, at int64) error {
	_, err := q.exec(ctx, sign, at, ctx.Value(doer{}))
	return err
}

// Entry is a row that was changed.
type Entry struct {
	Pos    int64   `db:"pos"`
	Deed   int64   `db:"deed"`   // the first pos of what was changed at once
	At     int64   `db:"at"`     // UTC Unix ms
	Person string  `db:"person"` // "" for the program
	Dog    string  `db:"dog"`    // "" where it concerns none
	What   string  `db:"what"`   // the table, or what else it was
	ID     string  `db:"id"`     // of the row
	Was    *string `db:"was"`    // JSON, nil where it was added
	Became *string `db:"became"` // JSON, nil where it was removed
}

// Enter notes what no table here shows: a device that was paired, a link that was ended.
func (s *Store) Enter(ctx context.Context, e Entry) error {
	return s.Write(ctx, func(q Q) error {
		return q.named(ctx, `INSERT INTO journal (dog, what, id, was, became) VALUES (:dog, :what, :id, :was, :became)`, e)
	})
}

// JournalFilter says which entries are asked for; what is zero in it asks for all.
type JournalFilter struct {
	Dog, Person string
	What        []string // tables, or what else there is
	From, Until int64    // UTC Unix ms; until is not in it
	Before      [2]int64 // deeds before the one of this moment and number; zero for the newest
	Most        int      // deeds
}

// Journal lists the entries of the newest deeds that are asked for, newest deed first, each in the order in which it was done.
func (q Q) Journal(ctx context.Context, f JournalFilter) (list []Entry, err error) {
	if f.What != nil && len(f.What) == 0 {
		return nil, nil
	}
	where, args := "person IS NOT NULL", []any{}
	and := func(condition string, arg any) {
		where += " AND " + condition
		args = append(args, arg)
	}
	if f.Dog != "" {
		and("dog = ?", f.Dog)
	}
	if f.Person != "" {
		and("person = ?", f.Person)
	}
	if f.What != nil {
		and("what IN (?)", f.What)
	}
	if f.From > 0 {
		and("at >= ?", f.From)
	}
	if f.Until > 0 {
		and("at < ?", f.Until)
	}
	deeds, most := where, append([]any{}, args...)
	if f.Before[0] > 0 {
		deeds, most = deeds+" AND (at, deed) < (?, ?)", append(most, f.Before[0], f.Before[1])
	}
	most = append(most, f.Most)
	err = q.in(ctx, &list, `SELECT pos, deed, at, person, dog, what, id, was, became FROM journal WHERE `+where+` AND deed IN
		(SELECT deed FROM journal WHERE `+deeds+` GROUP BY at, deed ORDER BY at DESC, deed DESC LIMIT ?) ORDER BY at DESC, deed DESC, pos`,
		append(args, most...)...)
	return list, err
}

// Called is what something is called.
type Called struct {
	What string `db:"what"` // the table, or "plan of" for a plan of a skill, which Name is the id of then
	ID   string `db:"id"`
	Name string `db:"name"`
}

// Called names whatever of places, rewards, care tasks, classes, skills and plans has one of the ids, archived or not.
func (q Q) Called(ctx context.Context, ids []string) (list []Called, err error) {
	err = q.many(ctx, &list, `WITH asked AS MATERIALIZED (SELECT value AS id FROM json_each(?))
		SELECT 'places' AS what, id, name FROM places WHERE id IN asked
		UNION ALL SELECT 'rewards', id, name FROM rewards WHERE id IN asked
		UNION ALL SELECT 'care_tasks', id, name FROM care_tasks WHERE id IN asked
		UNION ALL SELECT 'classes', id, name FROM classes WHERE id IN asked
		UNION ALL SELECT 'skills', id, name FROM skills WHERE id IN asked
		UNION ALL SELECT 'plan of', skill, min(id) FROM plans WHERE skill IN asked GROUP BY skill
		UNION ALL SELECT 'plans', p.id, s.name || CASE p.track WHEN '' THEN '' ELSE ', ' || p.track END FROM plans p
			JOIN skills s ON s.id = p.skill WHERE p.id IN asked`, JSON(ids))
	return list, err
}

// DogNames names all dogs, those archived too.
func (q Q) DogNames(ctx context.Context) (list []Called, err error) {
	err = q.many(ctx, &list, `SELECT 'dogs' AS what, id, name FROM dogs ORDER BY deleted IS NOT NULL, made, id`)
	return list, err
}
