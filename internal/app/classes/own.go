package classes

import (
	"context"
	"fmt"
	"strconv"
	"strings"

	"patientfox/core/programme"
	"patientfox/internal/app"
	"patientfox/internal/app/form"
	"patientfox/internal/exchange"
	"patientfox/internal/store"
	"patientfox/internal/templates"
)

// ownKey begins the key of a programme of the practice's own; its id follows.
const ownKey = "own:"

// Programmes lists the programmes: the practice's own, then those that ship with the program.
func (p *Cases) Programmes(ctx context.Context) (list []programme.Programme, err error) {
	rows, err := p.Store.Read().Programmes(ctx, classesShown)
	for _, row := range rows {
		one, err := readOwn(row)
		if err != nil {
			return nil, err
		}
		list = append(list, one)
	}
	return append(list, templates.Programmes()...), err
}

func readOwn(row store.Programme) (one programme.Programme, err error) {
	err = store.FromJSON(row.Body, &one)
	one.Key = ownKey + row.ID
	return one, err
}

// find is the programme of a key, with the version of one of the practice's own.
func find(ctx context.Context, q store.Q, key string) (of programme.Programme, version int, err error) {
	id, own := strings.CutPrefix(key, ownKey)
	if !own {
		found, ok := templates.FindProgramme(key)
		if !ok {
			return of, 0, app.ErrNotFound
		}
		return found, 0, nil
	}
	row, err := q.Programme(ctx, id)
	if err != nil {
		return of, 0, app.Found(err)
	}
	of, err = readOwn(row)
	return of, row.Version, err
}

// aimsField is the name of the field with the aims of a row, from 1; fromField is that with its template.
func aimsField(row int) string { return fmt.Sprintf("aims%d", row) }

func fromField(row int) string { return fmt.Sprintf("from%d", row) }

// typedProgramme is a programme as its form has it.
func typedProgramme(of programme.Programme, version int) form.Typed {
	t := form.Typed{"name": of.Name, "about": of.About, "weeks": strconv.Itoa(of.Weeks), "version": strconv.Itoa(version)}
	for i, r := range of.Rows {
		var aims []string
		for _, aim := range r.Aims {
			aims = append(aims, strconv.Itoa(aim))
		}
		t[fromField(i+1)], t[aimsField(i+1)] = r.From, strings.Join(aims, ", ")
	}
	return t
}

// skills are what a row can be of.
func skills() (list []app.Named) {
	for _, t := range templates.All() {
		list = append(list, app.Named{ID: t.Key, Name: fmt.Sprintf("%s, %d steps", t.Name, templates.Steps(t.Key))})
	}
	return list
}

// readProgramme reads the form; what is wrong stands beside its field.
func readProgramme(t form.Typed) (of programme.Programme, err error) {
	ps := form.Problems{}
	of.Name, of.About = ps.Name("name", t["name"], "the programme"), ps.Text("about", t["about"], programme.MaxText)
	if of.Weeks = ps.Whole(t, "weeks", 1, programme.MaxWeeks, fmt.Sprintf("From 1 to %d weeks.", programme.MaxWeeks)); of.Weeks == 0 {
		ps.Add("weeks", fmt.Sprintf("From 1 to %d weeks.", programme.MaxWeeks))
	}
	var fields []string // of the rows, in their order
	for n := 1; n <= programme.MaxRows; n++ {
		from := t.Text(fromField(n))
		if from == "" {
			continue
		}
		row := programme.Row{From: from}
		for _, text := range form.Listed(t[aimsField(n)]) {
			aim, err := strconv.Atoi(text)
			if err != nil {
				ps.Add(aimsField(n), fmt.Sprintf("“%s” is no number: a step a week, with commas between.", text))
			}
			row.Aims = append(row.Aims, aim)
		}
		of.Rows, fields = append(of.Rows, row), append(fields, aimsField(n))
	}
	if err := ps.Err(); err != nil {
		return of, err
	}
	for _, bad := range of.Check(templates.Steps) {
		field := bad.Field
		if number, is := strings.CutPrefix(field, "row"); is {
			if at, err := strconv.Atoi(number); err == nil && at <= len(fields) {
				field = fields[at-1]
			}
		}
		ps.Add(field, bad.Text)
	}
	if err := ps.Err(); err != nil {
		return of, err
	}
	return templates.Aimed(of)
}

// CopyProgramme makes a programme of the practice's own of another one, and answers with its key.
func (p *Cases) CopyProgramme(ctx context.Context, key string, t form.Typed) (string, error) {
	return p.Once(ctx, t, func(q store.Q) (string, error) {
		of, _, err := find(ctx, q, key)
		if err != nil {
			return "", err
		}
		return p.keep(ctx, q, of)
	})
}

// keep adds a programme of the practice's own, and answers with its key.
func (p *Cases) keep(ctx context.Context, q store.Q, of programme.Programme) (string, error) {
	s, err := p.Profile(ctx, q)
	if err != nil {
		return "", err
	}
	row := store.Programme{ID: app.NewID(), Body: store.JSON(of), Made: p.Ms(), MadeBy: s.By}
	return ownKey + row.ID, q.AddProgramme(ctx, row)
}

// ProgrammeFile is a programme as a file, with its name.
func (p *Cases) ProgrammeFile(ctx context.Context, key string) (name string, body []byte, err error) {
	of, _, err := find(ctx, p.Store.Read(), key)
	if err != nil {
		return "", nil, err
	}
	body, err = exchange.WriteProgramme(of)
	return exchange.FileName(of.Name) + ".json", body, err
}

// ReadProgramme keeps a programme from a file as one of the practice's own, and answers with its key. What cannot stand is said of "file".
func (p *Cases) ReadProgramme(ctx context.Context, t form.Typed, file []byte) (string, error) {
	ps := form.Problems{}
	of, err := exchange.ReadProgramme(file)
	switch {
	case len(file) == 0:
		ps.Add("file", "Choose the file of a programme, one that ends in .json.")
	case err != nil:
		ps.Add("file", "This is no programme of Patient Fox, or one that a newer version wrote.")
	default:
		for i := range of.Rows { // the library's own are taken
			of.Rows[i].Skill, of.Rows[i].Criteria = "", nil
		}
		if bad := of.Check(templates.Steps); len(bad) > 0 {
			text := bad[0].Text
			if number, is := strings.CutPrefix(bad[0].Field, "row"); is && number != "s" {
				text = "Skill " + number + ": " + text
			}
			ps.Add("file", text)
		}
	}
	if err := ps.Err(); err != nil {
		return "", err
	}
	of.Key = ""
	if of, err = templates.Aimed(of); err != nil {
		return "", err
	}
	return p.Once(ctx, t, func(q store.Q) (string, error) { return p.keep(ctx, q, of) })
}

// SaveProgramme changes one of the practice's own: "name", "about", "weeks", and for each row, from 1, its template by key in "from1" and
// the steps by week, with commas between, in "aims1"; a row without a template is left out. Classes that have begun keep what they began
// with.
func (p *Cases) SaveProgramme(ctx context.Context, key string, t form.Typed) error {
	id, own := strings.CutPrefix(key, ownKey)
	if !own {
		return app.ErrNotFound
	}
	of, err := readProgramme(t)
	if err != nil {
		return err
	}
	version, err := strconv.Atoi(t.Text("version"))
	if err != nil {
		return app.ErrNotFound
	}
	return p.Store.Write(ctx, func(q store.Q) error {
		now, has, err := find(ctx, q, key)
		if err != nil {
			return err
		}
		ok, err := q.SetProgramme(ctx, store.Programme{ID: id, Body: store.JSON(of), Version: version})
		if err == nil && !ok {
			err = &form.Conflict{Now: typedProgramme(now, has)}
		}
		return err
	})
}

// DeleteProgramme puts one of the practice's own away, or brings it back. Its classes go on.
func (p *Cases) DeleteProgramme(ctx context.Context, key string, away bool) error {
	id, own := strings.CutPrefix(key, ownKey)
	if !own {
		return app.ErrNotFound
	}
	return p.Away(ctx, away, func(q store.Q, at *int64) (bool, error) { return q.DeleteProgramme(ctx, id, at) })
}
