package journal

import (
	"cmp"
	"context"
	"fmt"
	"reflect"
	"strings"
	"time"

	"patientfox/core/say"
	"patientfox/internal/app"
	"patientfox/internal/store"
)

// longest is how many characters a value has that is still said.
const longest = 80

// deed is a deed with the day of it.
type deed struct {
	Deed
	day    string
	at, id int64
}

// deeds reads entries, and says each deed in lines.
func (n *names) deeds(ctx context.Context, q store.Q, f store.JournalFilter) (list []deed, err error) {
	entries, err := q.Journal(ctx, f)
	if err != nil {
		return nil, err
	}
	if err := n.load(ctx, q, entries); err != nil {
		return nil, err
	}
	for start := 0; start < len(entries); {
		end := start
		for end < len(entries) && entries[end].Deed == entries[start].Deed {
			end++
		}
		list = append(list, n.deed(entries[start:end]))
		start = end
	}
	return list, nil
}

func (n *names) deed(entries []store.Entry) deed {
	first := entries[0]
	at := time.UnixMilli(first.At).In(n.s.Zone)
	d := deed{
		Deed: Deed{Time: at.Format("15:04"), By: n.by(first.Person)}, day: at.Format("Mon 2 Jan 2006"), at: first.At, id: first.Deed,
	}
	seen, told := map[string]bool{}, map[string]bool{}
	changes := merged(entries)
	for _, e := range changes {
		if name := n.dogs[e.Dog]; name != "" && !seen[e.Dog] {
			seen[e.Dog] = true
			d.Dogs = append(d.Dogs, app.Named{ID: e.Dog, Name: name})
		}
	}
	for _, e := range changes {
		line := n.line(e)
		if name := n.dogs[e.Dog]; len(d.Dogs) > 1 && name != "" && !strings.HasPrefix(line, name) {
			line = name + ": " + line
		}
		if line != "" && !told[line] {
			told[line] = true
			d.Lines = append(d.Lines, line)
		}
	}
	return d
}

func (n *names) by(id string) string {
	if id == "" {
		return "Patient Fox"
	}
	return n.person(id)
}

// merged joins a row that was removed and added anew at once into one that was changed, and leaves out one that is as it was.
func merged(entries []store.Entry) (list []store.Entry) {
	at := map[[2]string]int{}
	for _, e := range entries {
		key := [2]string{e.What, e.ID}
		i, is := at[key]
		if is && list[i].Became == nil && e.Was == nil {
			list[i].Became = e.Became
			continue
		}
		at[key] = len(list)
		list = append(list, e)
	}
	kept := list[:0]
	for _, e := range list {
		if e.Was == nil || e.Became == nil || *e.Was != *e.Became || len(columns(e)) == 0 {
			kept = append(kept, e)
		}
	}
	return kept
}

// columns are those that an entry changed.
func columns(e store.Entry) []string {
	was, now := read(e.Was), read(e.Became)
	var list []string
	for column := range now {
		if !reflect.DeepEqual(was[column], now[column]) {
			list = append(list, column)
		}
	}
	return list
}

func read(text *string) (row values) {
	if text != nil {
		store.FromJSON(*text, &row) //nolint:errcheck // SQLite wrote it
	}
	return row
}

// rowOf is the row of an entry as it is now, or as it was last.
func rowOf(e store.Entry) values {
	if e.Became != nil {
		return read(e.Became)
	}
	return read(e.Was)
}

// line says an entry in a sentence without its end, "" where there is nothing to say.
func (n *names) line(e store.Entry) string {
	t, is := tables[e.What]
	if !is {
		return ""
	}
	was, now := read(e.Was), read(e.Became)
	switch {
	case e.What == "definitions":
		return t.name(n, e.ID, now) + " changed. " + n.redefined(now)
	case e.What == "plan_versions":
		return t.name(n, e.ID, now) + ": " + cmp.Or(strings.Join(n.replanned(now), "; "), "saved anew")
	case e.What == "practice" && was != nil && was["epoch"] != now["epoch"]:
		return "The practice was restored from a copy"
	}
	subject := t.name(n, e.ID, rowOf(e))
	switch {
	case e.Was == nil:
		return subject + " " + cmp.Or(t.verbs[0], "added")
	case e.Became == nil:
		return subject + " " + cmp.Or(t.verbs[1], "removed")
	case was["deleted"] == nil && now["deleted"] != nil:
		return subject + " " + away(e.What)
	case was["deleted"] != nil && now["deleted"] == nil:
		return subject + " " + back(e.What)
	}
	return n.changed(t, t.name(n, e.ID, was), was, now)
}

// away and back say that a row was archived, and that it is there again.
func away(what string) string {
	switch what {
	case "people":
		return "left the practice"
	case "care_done", "homework_lines", "eaten", "breaches", "setbacks", "shown":
		return "taken back"
	}
	return "archived"
}

func back(what string) string {
	if what == "people" {
		return "came back"
	}
	return "restored"
}

// changed says what of a row is otherwise.
func (n *names) changed(t table, subject string, was, now values) string {
	var said []string
	for _, f := range t.fields {
		before, after := was[f.column], now[f.column]
		if reflect.DeepEqual(before, after) {
			continue
		}
		from, to := n.value(f, before), n.value(f, after)
		switch {
		case f.label == "it":
			said = append(said, "changed")
		case from == "" && to == "" || len([]rune(from)) > longest || len([]rune(to)) > longest:
			said = append(said, f.label+" changed")
		case from == "" && strings.HasPrefix(to, happened):
			said = append(said, f.label+" "+to)
		case to == "" && strings.HasPrefix(from, happened):
			said = append(said, "not "+f.label+" any more")
		case from == "":
			said = append(said, f.label+" set to "+to)
		case to == "":
			said = append(said, fmt.Sprintf("%s %s removed", f.label, from))
		default:
			said = append(said, fmt.Sprintf("%s changed from %s to %s", f.label, from, to))
		}
	}
	if len(said) == 0 {
		return subject + " changed"
	}
	return subject + map[bool]string{true: " ", false: ": "}[said[0] == "changed"] + say.List(said)
}

// value says one, "" for one that is empty or not said.
func (n *names) value(f field, value any) string {
	if f.says != nil {
		return f.says(n, value)
	}
	text, _ := value.(string)
	if text = strings.Join(strings.FieldsFunc(text, func(r rune) bool { return r == '\n' || r == '\r' }), "; "); text == "" {
		return ""
	}
	return quoted(text)
}
