package exchange

import (
	"bytes"
	"encoding/json"
	"fmt"
	"slices"
	"strconv"
	"strings"

	"patientfox/core/criteria"
	"patientfox/core/library"
	"patientfox/core/progression"
)

// WriteTemplate writes a template file, with its ladder as steps, readable and in a fixed order.
func WriteTemplate(t library.Template) ([]byte, error) {
	steps, problems := t.Ladder()
	if len(problems) > 0 {
		return nil, fmt.Errorf("the ladder cannot stand: %s", problems[0].Text)
	}
	var out []pair
	add := func(name string, value any) { out = append(out, pair{name, value}) }
	add("format", TemplateFormat)
	add("version", TemplateVersion)
	add("name", t.Name)
	add("kind", t.Kind)
	add("about", t.About)
	add("for_whom", t.For)
	add("bring", t.Bring)
	add("method", t.Body.Method)
	add("definition", t.Definition)
	lists, own := map[criteria.Key][]string{}, map[criteria.Key]criteria.Dimension{}
	for _, c := range steps {
		for key, items := range c.Lists {
			lists[key] = items
		}
		for _, d := range c.CustomDimensions {
			own[d.Key] = d
		}
	}
	add("dimensions", ownRows(own))
	add("lists", lists)
	var rows []map[string]any
	for i, c := range steps {
		rows = append(rows, stepRow(c, lists, i < len(t.Safety) && t.Safety[i]))
	}
	add("steps", rows)
	add("tracks", t.Tracks)
	add("rule", t.Body.Rule)
	add("reinforcement", payRow(t.Body))
	add("needs", needRows(t.Body.Needs))
	add("management", t.Body.Management)
	add("errors", t.Body.Errors)
	add("phases", t.Body.Phases)
	add("engaged", t.Body.Engaged)
	add("rest_min", t.Body.RestMin)
	add("decoy_in", t.Body.DecoyIn)
	add("deck", t.Body.Deck)
	add("props", t.Body.Props)
	add("cue", map[string]any{"new": t.Body.Cueing.New, "old": t.Body.Cueing.Old})
	add("cautions", t.Body.Cautions)
	add("goes_wrong", t.Body.Wrong)

	return write(out)
}

func needRows(list []progression.Need) []map[string]any {
	var needs []map[string]any
	for _, n := range list {
		row := map[string]any{"skill": n.Skill, "why": n.Why}
		if n.Step > 0 {
			row["step"] = n.Step
		}
		if before, err := strconv.Atoi(n.Before); err == nil {
			row["before"] = before
		}
		needs = append(needs, row)
	}
	return needs
}

// pair is one field of a file, in its place.
type pair struct {
	name  string
	value any
}

// write writes fields in their order, without those that say nothing.
func write(out []pair) ([]byte, error) {
	var b bytes.Buffer
	b.WriteString("{\n")
	first := true
	for _, p := range out {
		var raw bytes.Buffer
		enc := json.NewEncoder(&raw)
		enc.SetEscapeHTML(false)
		enc.SetIndent("  ", "  ")
		if err := enc.Encode(p.value); err != nil {
			return nil, err
		}
		text := strings.TrimSpace(raw.String())
		if text == "null" || text == "{}" || text == "[]" && p.name != "errors" || text == `""` {
			continue
		}
		if !first {
			b.WriteString(",\n")
		}
		first = false
		fmt.Fprintf(&b, "  %q: %s", p.name, text)
	}
	b.WriteString("\n}\n")
	return b.Bytes(), nil
}

func stepRow(c criteria.Criteria, lists map[criteria.Key][]string, safety bool) map[string]any {
	row := map[string]any{}
	for _, d := range c.Asked() {
		if d.IsList() {
			row[string(d.Key)] = c.Item(d.Key)
		} else {
			row[string(d.Key)] = c.Get(d.Key)
		}
	}
	if c.Text != "" {
		row["text"] = c.Text
	}
	if c.Trig != "" {
		row["trigger_is"] = c.Trig
	}
	if len(c.Vary) > 0 {
		row["vary"] = c.Vary
	}
	if safety {
		row["safety"] = true
	}
	return row
}

func ownRows(own map[criteria.Key]criteria.Dimension) []map[string]any {
	var rows []map[string]any
	for _, d := range own {
		row := map[string]any{"key": d.Key, "label": d.Label}
		switch d.Harder {
		case 1:
			row["harder"] = "more"
		case -1:
			row["harder"] = "less"
		}
		if d.IsList() {
			row["items"] = d.Items
		} else {
			row["unit"], row["min"], row["max"] = d.Unit, d.Min, d.Max
		}
		rows = append(rows, row)
	}
	slices.SortFunc(rows, func(a, b map[string]any) int {
		return strings.Compare(string(a["key"].(criteria.Key)), string(b["key"].(criteria.Key)))
	})
	return rows
}
