// Package wire is JSON as the core reads and writes it, the same on the phone and on the server. It knows
// what the core's own types need and no more: fields by their exact tag, omitempty, embedded structs, maps with
// string keys, raw values. In the browser's core the library's package would weigh as much as all the rules together.
// A property holds it to encoding/json.
package wire

import (
	"encoding/json"
	"errors"
	"math"
	"reflect"
	"strconv"
	"unicode/utf8"
)

var rawType = reflect.TypeOf(json.RawMessage(nil))

// field is one field of a struct as it stands in JSON.
type field struct {
	name  string
	index int
	omit  bool
	flat  bool // an embedded struct: its fields stand in the outer object
}

var known = map[reflect.Type][]field{}

// fieldsOf reads a struct's tags. The browser has one thread; elsewhere mu guards what is known.
func fieldsOf(t reflect.Type) []field {
	mu.Lock()
	defer mu.Unlock()
	list, ok := known[t]
	if ok {
		return list
	}
	for i := range t.NumField() {
		f := t.Field(i)
		tag, tagged := tagOf(string(f.Tag))
		if f.Anonymous && !tagged && f.Type.Kind() == reflect.Struct {
			list = append(list, field{index: i, flat: true})
			continue
		}
		if f.PkgPath != "" || tag == "-" {
			continue
		}
		one := field{name: tag, index: i}
		for at := range tag {
			if tag[at] == ',' {
				one.name, one.omit = tag[:at], tag[at+1:] == "omitempty"
				break
			}
		}
		if one.name == "" {
			one.name = f.Name
		}
		list = append(list, one)
	}
	known[t] = list
	return list
}

// tagOf finds what `json:"…"` says.
func tagOf(tag string) (text string, ok bool) {
	const start = `json:"`
	for at := 0; at+len(start) <= len(tag); at++ {
		if tag[at:at+len(start)] == start {
			rest := tag[at+len(start):]
			for end := range rest {
				if rest[end] == '"' {
					return rest[:end], true
				}
			}
		}
	}
	return "", false
}

// Marshal writes a value. A figure that is no number cannot be written.
func Marshal(v any) ([]byte, error) {
	w := writer{}
	w.value(reflect.ValueOf(v))
	return w.out, w.err
}

type writer struct {
	out []byte
	err error
}

func (w *writer) text(s string) { w.out = append(w.out, s...) }

func (w *writer) value(v reflect.Value) {
	switch v.Kind() {
	case reflect.Invalid:
		w.text("null")
	case reflect.Bool:
		w.out = strconv.AppendBool(w.out, v.Bool())
	case reflect.Int, reflect.Int64, reflect.Int32, reflect.Int16, reflect.Int8:
		w.out = strconv.AppendInt(w.out, v.Int(), 10)
	case reflect.Uint64, reflect.Uint, reflect.Uint32, reflect.Uint8:
		w.out = strconv.AppendUint(w.out, v.Uint(), 10)
	case reflect.Float64:
		x := v.Float()
		if math.IsNaN(x) || math.IsInf(x, 0) {
			w.err = errors.New("a figure that is no number")
			return
		}
		w.out = strconv.AppendFloat(w.out, x, 'g', -1, 64)
	case reflect.String:
		w.quote(v.String())
	case reflect.Pointer, reflect.Interface:
		if v.IsNil() {
			w.text("null")
			return
		}
		w.value(v.Elem())
	case reflect.Slice:
		switch {
		case v.Type() == rawType:
			if raw := v.Bytes(); len(raw) > 0 {
				w.out = append(w.out, raw...)
				return
			}
			w.text("null")
		case v.IsNil():
			w.text("null")
		default:
			w.list(v)
		}
	case reflect.Array:
		w.list(v)
	case reflect.Map:
		w.table(v)
	case reflect.Struct:
		w.text("{")
		w.fields(v, false)
		w.text("}")
	default:
		w.err = errors.New("a kind of value that is not written: " + v.Kind().String())
	}
}

func (w *writer) list(v reflect.Value) {
	w.text("[")
	for i := range v.Len() {
		if i > 0 {
			w.text(",")
		}
		w.value(v.Index(i))
	}
	w.text("]")
}

// table writes a map in the order of its keys.
func (w *writer) table(v reflect.Value) {
	if v.IsNil() {
		w.text("null")
		return
	}
	keys := v.MapKeys()
	for i := range keys {
		for at := i; at > 0 && keys[at].String() < keys[at-1].String(); at-- {
			keys[at], keys[at-1] = keys[at-1], keys[at]
		}
	}
	w.text("{")
	for i, key := range keys {
		if i > 0 {
			w.text(",")
		}
		w.quote(key.String())
		w.text(":")
		w.value(v.MapIndex(key))
	}
	w.text("}")
}

func (w *writer) fields(v reflect.Value, more bool) bool {
	for _, f := range fieldsOf(v.Type()) {
		one := v.Field(f.index)
		if f.flat {
			more = w.fields(one, more)
			continue
		}
		if f.omit && empty(one) {
			continue
		}
		if more {
			w.text(",")
		}
		more = true
		w.quote(f.name)
		w.text(":")
		w.value(one)
	}
	return more
}

// empty tells what omitempty leaves out: false, 0, "", nil and what has no members.
func empty(v reflect.Value) bool {
	switch v.Kind() {
	case reflect.Slice, reflect.Map, reflect.String, reflect.Array:
		return v.Len() == 0
	case reflect.Struct:
		return false
	}
	return v.IsZero()
}

const hexDigits = "0123456789abcdef"

func (w *writer) quote(s string) {
	w.out = append(w.out, '"')
	for i := 0; i < len(s); {
		c := s[i]
		switch {
		case c == '"' || c == '\\':
			w.out = append(w.out, '\\', c)
		case c < 0x20 || c == 0x7f:
			w.out = append(w.out, '\\', 'u', '0', '0', hexDigits[c>>4], hexDigits[c&15])
		case c < utf8.RuneSelf:
			w.out = append(w.out, c)
		default:
			r, size := utf8.DecodeRuneInString(s[i:])
			w.out = utf8.AppendRune(w.out, r) // what is no rune becomes the sign for that
			i += size
			continue
		}
		i++
	}
	w.out = append(w.out, '"')
}
