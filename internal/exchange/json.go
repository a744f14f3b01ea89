// Package exchange reads and writes open formats: what leaves the practice as a file, and what comes
// in as one.
package exchange

import (
	"bytes"
	"encoding/json"
	"errors"
	"fmt"
	"io"
	"math"
	"sort"
	"strings"
)

// Problem is what is wrong in a file, with its line and what would mend it.
type Problem struct {
	Line int // from 1, 0 where it is the file as a whole
	Text string
}

func (p Problem) String() string {
	if p.Line == 0 {
		return p.Text
	}
	return fmt.Sprintf("Line %d: %s", p.Line, p.Text)
}

// node is one JSON value that knows its line.
type node struct {
	line  int
	value any // string, float64, bool, nil, []*node, *object
}

// object keeps its members in their order.
type object struct {
	names []string
	lines map[string]int
	nodes map[string]*node
	read  map[string]bool
}

// parser reads JSON with line numbers, which the standard decoder does not keep.
type parser struct {
	data []byte
	dec  *json.Decoder
}

// deepest bounds how far values may be nested.
const deepest = 20

func (p *parser) line() int {
	at := min(int(p.dec.InputOffset()), len(p.data))
	return 1 + bytes.Count(p.data[:at], []byte{'\n'})
}

func parse(data []byte) (*node, *Problem) {
	p := &parser{data, json.NewDecoder(bytes.NewReader(data))}
	n, problem := p.next(0)
	if problem != nil {
		return nil, problem
	}
	if _, err := p.dec.Token(); err != io.EOF {
		return nil, &Problem{p.line(), "Something follows after the end of the template. Delete it."}
	}
	return n, nil
}

func (p *parser) bad(err error) *Problem {
	line := p.line()
	if syntax, ok := err.(*json.SyntaxError); ok {
		at := max(0, min(int(syntax.Offset)-1, len(p.data)))
		line = 1 + bytes.Count(p.data[:at], []byte{'\n'})
		return &Problem{
			line,
			fmt.Sprintf("This is not JSON (%s). A comma, a quotation mark or a bracket is missing or too many, here or in the line before.",
				syntax.Error()),
		}
	}
	if errors.Is(err, io.EOF) || errors.Is(err, io.ErrUnexpectedEOF) {
		return &Problem{line, "The file ends in the middle. A closing bracket is missing, or it was not saved whole."}
	}
	return &Problem{line, "This cannot be read as JSON: " + err.Error()}
}

func (p *parser) next(depth int) (*node, *Problem) {
	token, err := p.dec.Token()
	if err != nil {
		return nil, p.bad(err)
	}
	n := &node{line: p.line(), value: token}
	delim, nested := token.(json.Delim)
	if !nested {
		return n, nil
	}
	if depth >= deepest {
		return nil, &Problem{n.line, "Too many brackets inside each other."}
	}
	if delim == '[' {
		list := []*node{}
		for p.dec.More() {
			item, problem := p.next(depth + 1)
			if problem != nil {
				return nil, problem
			}
			list = append(list, item)
		}
		n.value = list
	} else {
		o := &object{lines: map[string]int{}, nodes: map[string]*node{}, read: map[string]bool{}}
		for p.dec.More() {
			token, err := p.dec.Token()
			if err != nil {
				return nil, p.bad(err)
			}
			name, line := token.(string), p.line()
			item, problem := p.next(depth + 1)
			if problem != nil {
				return nil, problem
			}
			if _, twice := o.nodes[name]; twice {
				return nil, &Problem{line, fmt.Sprintf("“%s” stands here twice. Delete one.", name)}
			}
			o.names = append(o.names, name)
			o.lines[name], o.nodes[name] = line, item
		}
		n.value = o
	}
	if _, err := p.dec.Token(); err != nil {
		return nil, p.bad(err)
	}
	return n, nil
}

// reader takes values out of nodes and gathers what is wrong.
type reader struct{ problems []Problem }

func (r *reader) add(line int, format string, args ...any) {
	r.problems = append(r.problems, Problem{line, fmt.Sprintf(format, args...)})
}

// of is an object; an empty one where there is none.
func (r *reader) object(n *node, what string) *object {
	if n != nil {
		if o, ok := n.value.(*object); ok {
			return o
		}
		r.add(n.line, "%s is written in braces: { … }.", what)
	}
	return &object{lines: map[string]int{}, nodes: map[string]*node{}, read: map[string]bool{}}
}

func (o *object) get(name string) *node {
	o.read[name] = true
	return o.nodes[name]
}

// rest says which names nobody knows, with the one that was probably meant.
func (r *reader) rest(o *object, what string) {
	for _, name := range o.names {
		if o.read[name] {
			continue
		}
		text := fmt.Sprintf("%s has nothing called “%s”.", what, clip(name))
		if near := nearest(name, o.read); near != "" {
			text += fmt.Sprintf(" Did you mean “%s”?", near)
		} else {
			text += " Delete it."
		}
		r.add(o.lines[name], "%s", text)
	}
}

func (r *reader) text(o *object, name string) string {
	n := o.get(name)
	if n == nil || n.value == nil {
		return ""
	}
	s, ok := n.value.(string)
	if !ok {
		r.add(n.line, "“%s” is a text: put it in quotation marks.", name)
	}
	return s
}

func (r *reader) number(o *object, name string) float64 {
	n := o.get(name)
	if n == nil || n.value == nil {
		return 0
	}
	x, ok := n.value.(float64)
	if !ok || math.IsNaN(x) || math.IsInf(x, 0) {
		r.add(n.line, "“%s” is a number: figures without quotation marks and without a unit, such as 2.5.", name)
	}
	return x
}

func (r *reader) whole(o *object, name string) int {
	x := r.number(o, name)
	if x != math.Trunc(x) || math.Abs(x) > 1e6 {
		r.add(o.lines[name], "“%s” is a whole number.", name)
		return 0
	}
	return int(x)
}

func (r *reader) yes(o *object, name string) bool {
	n := o.get(name)
	if n == nil || n.value == nil {
		return false
	}
	b, ok := n.value.(bool)
	if !ok {
		r.add(n.line, "“%s” is true or false, without quotation marks.", name)
	}
	return b
}

func (r *reader) list(o *object, name string) []*node {
	n := o.get(name)
	if n == nil || n.value == nil {
		return nil
	}
	list, ok := n.value.([]*node)
	if !ok {
		r.add(n.line, "“%s” is a list in brackets: [ … ].", name)
	}
	return list
}

func (r *reader) texts(o *object, name string) []string {
	var out []string
	for _, n := range r.list(o, name) {
		s, ok := n.value.(string)
		if !ok {
			r.add(n.line, "“%s” is a list of texts: put each in quotation marks.", name)
			return nil
		}
		out = append(out, s)
	}
	return out
}

// nearest finds the known name that differs least, if it differs little.
func nearest(name string, known map[string]bool) string {
	names := make([]string, 0, len(known))
	for k := range known {
		names = append(names, k)
	}
	sort.Strings(names)
	best, least := "", 3
	for _, k := range names {
		if d := distance(strings.ToLower(name), k); d < least {
			best, least = k, d
		}
	}
	return best
}

// distance counts the letters to change, add or drop (Levenshtein).
func distance(a, b string) int {
	if len(a) > 40 {
		return len(a)
	}
	row := make([]int, len(b)+1)
	for j := range row {
		row[j] = j
	}
	for i := 1; i <= len(a); i++ {
		before := row[0]
		row[0] = i
		for j := 1; j <= len(b); j++ {
			cost := before
			if a[i-1] != b[j-1] {
				cost++
			}
			before = row[j]
			row[j] = min(cost, row[j]+1, row[j-1]+1)
		}
	}
	return row[len(b)]
}

func clip(s string) string {
	if runes := []rune(s); len(runes) > 30 {
		return string(runes[:30]) + "…"
	}
	return s
}
