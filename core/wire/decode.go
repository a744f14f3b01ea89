package wire

import (
	"errors"
	"reflect"
	"strconv"
	"sync"
	"unicode/utf16"
	"unicode/utf8"
)

var mu sync.Mutex

// errRead says that a text is no JSON, or not of the form that is read.
var errRead = errors.New("this JSON cannot be read")

// deepest bounds how deep lists and objects may lie in each other.
const deepest = 200

// Valid tells whether a text is one JSON value.
func Valid(raw []byte) bool {
	r := reader{in: raw}
	r.skip()
	return r.end()
}

// Compact returns a JSON text without the space between its parts; what is no JSON comes back as it is.
func Compact(raw []byte) []byte {
	if !Valid(raw) {
		return raw
	}
	out := make([]byte, 0, len(raw))
	quoted := false
	for i := 0; i < len(raw); i++ {
		c := raw[i]
		switch {
		case quoted && c == '\\':
			out = append(out, c, raw[i+1])
			i++
			continue
		case c == '"':
			quoted = !quoted
		case !quoted && space(c):
			continue
		}
		out = append(out, c)
	}
	return out
}

// Unmarshal reads a value into what v points to. Fields that are not known are passed over; null leaves a figure, a
// text or a struct as it was.
func Unmarshal(raw []byte, v any) error {
	if !Valid(raw) {
		return errRead
	}
	r := reader{in: raw}
	r.value(reflect.ValueOf(v).Elem())
	if !r.end() {
		return errRead
	}
	return nil
}

type reader struct {
	in   []byte
	at   int
	deep int
	bad  bool
}

func space(c byte) bool { return c == ' ' || c == '\n' || c == '\t' || c == '\r' }

// next passes over space and returns what comes, 0 at the end.
func (r *reader) next() byte {
	for r.at < len(r.in) && space(r.in[r.at]) {
		r.at++
	}
	if r.bad || r.at >= len(r.in) {
		return 0
	}
	return r.in[r.at]
}

func (r *reader) end() bool { return r.next() == 0 && !r.bad && r.at == len(r.in) }

func (r *reader) fail() { r.bad = true }

// take passes over one sign that has to come.
func (r *reader) take(c byte) {
	if r.next() != c {
		r.fail()
		return
	}
	r.at++
}

// word passes over true, false or null.
func (r *reader) word(w string) {
	if r.at+len(w) > len(r.in) || string(r.in[r.at:r.at+len(w)]) != w {
		r.fail()
		return
	}
	r.at += len(w)
}

// each reads the members of a list or an object.
func (r *reader) each(open, shut byte, member func()) {
	r.take(open)
	if r.deep++; r.deep > deepest {
		r.fail()
	}
	if r.next() == shut {
		r.at++
		r.deep--
		return
	}
	for !r.bad {
		member()
		if r.next() == shut {
			r.at++
			r.deep--
			return
		}
		r.take(',')
	}
}

// skip passes over a value.
func (r *reader) skip() {
	switch c := r.next(); {
	case c == '{':
		r.each('{', '}', func() { r.quoted(); r.take(':'); r.skip() })
	case c == '[':
		r.each('[', ']', r.skip)
	case c == '"':
		r.quoted()
	case c == 't':
		r.word("true")
	case c == 'f':
		r.word("false")
	case c == 'n':
		r.word("null")
	default:
		r.number()
	}
}

// number passes over a number, in JSON's own form, and returns it.
func (r *reader) number() string {
	from := r.at
	digits := func() {
		start := r.at
		for r.at < len(r.in) && r.in[r.at] >= '0' && r.in[r.at] <= '9' {
			r.at++
		}
		if r.at == start {
			r.fail()
		}
	}
	sign := func(set string) bool {
		for i := range len(set) {
			if r.at < len(r.in) && r.in[r.at] == set[i] {
				r.at++
				return true
			}
		}
		return false
	}
	sign("-")
	if !sign("0") {
		digits()
	}
	if sign(".") {
		digits()
	}
	if sign("eE") {
		sign("+-")
		digits()
	}
	return string(r.in[from:r.at])
}

// quoted reads a text.
func (r *reader) quoted() string {
	r.take('"')
	var out []byte
	from := r.at
	for !r.bad && r.at < len(r.in) {
		c := r.in[r.at]
		switch {
		case c == '"':
			out = append(out, r.in[from:r.at]...)
			r.at++
			return clean(out)
		case c < 0x20:
			r.fail()
		case c != '\\':
			r.at++
		default:
			out = append(out, r.in[from:r.at]...)
			out = r.escape(out)
			from = r.at
		}
	}
	r.fail()
	return ""
}

// clean puts the sign for what is no rune where bytes are none.
func clean(b []byte) string {
	if utf8.Valid(b) {
		return string(b)
	}
	return string([]rune(string(b)))
}

func (r *reader) escape(out []byte) []byte {
	if r.at+1 >= len(r.in) {
		r.fail()
		return out
	}
	c := r.in[r.at+1]
	r.at += 2
	switch c {
	case '"', '\\', '/':
		return append(out, c)
	case 'b':
		return append(out, '\b')
	case 'f':
		return append(out, '\f')
	case 'n':
		return append(out, '\n')
	case 'r':
		return append(out, '\r')
	case 't':
		return append(out, '\t')
	case 'u':
		one := r.hex()
		if utf16.IsSurrogate(one) {
			if at := r.at; at+1 < len(r.in) && r.in[at] == '\\' && r.in[at+1] == 'u' {
				r.at += 2
				two := r.hex()
				if both := utf16.DecodeRune(one, two); both != utf8.RuneError {
					return utf8.AppendRune(out, both)
				}
				r.at = at // two that do not belong together: each for itself
			}
			one = utf8.RuneError
		}
		return utf8.AppendRune(out, one)
	}
	r.fail()
	return out
}

func (r *reader) hex() (x rune) {
	for range 4 {
		if r.at >= len(r.in) {
			r.fail()
			return 0
		}
		c := r.in[r.at]
		r.at++
		switch {
		case c >= '0' && c <= '9':
			x = x<<4 | rune(c-'0')
		case c|0x20 >= 'a' && c|0x20 <= 'f':
			x = x<<4 | rune(c|0x20-'a'+10)
		default:
			r.fail()
		}
	}
	return x
}

// value reads the next value into v.
func (r *reader) value(v reflect.Value) {
	c := r.next()
	if v.Type() == rawType {
		from := r.at
		r.skip()
		v.SetBytes(append([]byte(nil), r.in[from:r.at]...))
		return
	}
	if c == 'n' {
		r.word("null")
		switch v.Kind() {
		case reflect.Pointer, reflect.Slice, reflect.Map:
			v.SetZero()
		}
		return
	}
	switch v.Kind() {
	case reflect.Pointer:
		if v.IsNil() {
			v.Set(reflect.New(v.Type().Elem()))
		}
		r.value(v.Elem())
	case reflect.Bool:
		if c == 't' {
			r.word("true")
		} else {
			r.word("false")
		}
		v.SetBool(c == 't')
	case reflect.Int, reflect.Int64, reflect.Int32, reflect.Int16, reflect.Int8:
		n, err := strconv.ParseInt(r.number(), 10, 64)
		if err != nil || v.OverflowInt(n) {
			r.fail()
			return
		}
		v.SetInt(n)
	case reflect.Uint64, reflect.Uint, reflect.Uint32, reflect.Uint8:
		n, err := strconv.ParseUint(r.number(), 10, 64)
		if err != nil || v.OverflowUint(n) {
			r.fail()
			return
		}
		v.SetUint(n)
	case reflect.Float64:
		x, err := strconv.ParseFloat(r.number(), 64)
		if err != nil {
			r.fail()
		}
		v.SetFloat(x)
	case reflect.String:
		v.SetString(r.quoted())
	case reflect.Slice:
		if v.IsNil() {
			v.Set(reflect.MakeSlice(v.Type(), 0, 4))
		}
		v.SetLen(0)
		r.each('[', ']', func() {
			v.Grow(1)
			n := v.Len()
			v.SetLen(n + 1)
			v.Index(n).SetZero()
			r.value(v.Index(n))
		})
	case reflect.Map:
		if v.IsNil() {
			v.Set(reflect.MakeMap(v.Type()))
		}
		r.each('{', '}', func() {
			key := reflect.New(v.Type().Key()).Elem()
			key.SetString(r.quoted())
			r.take(':')
			one := reflect.New(v.Type().Elem()).Elem()
			r.value(one)
			v.SetMapIndex(key, one)
		})
	case reflect.Struct:
		r.each('{', '}', func() {
			name := r.quoted()
			r.take(':')
			if one, ok := member(v, name); ok {
				r.value(one)
			} else {
				r.skip()
			}
		})
	default:
		r.fail()
	}
}

// member finds a struct's field by its name in JSON, in embedded structs too.
func member(v reflect.Value, name string) (reflect.Value, bool) {
	for _, f := range fieldsOf(v.Type()) {
		if f.flat {
			if one, ok := member(v.Field(f.index), name); ok {
				return one, true
			}
		} else if f.name == name {
			return v.Field(f.index), true
		}
	}
	return v, false
}
