package homework

import (
	"cmp"
	"fmt"
	"regexp"
	"slices"
	"strconv"
	"strings"
	"unicode"
	"unicode/utf8"

	"patientfox/core/standing"
)

// Bounds of what a household sends back.
const (
	MostOf      = 100 // repetitions in a line
	MostLines   = 40  // lines at once
	MostText    = 300 // characters of a place or a remark
	OldestDays  = 92  // how long ago a line may be of
	MinSet      = 5   // repetitions that are a set
	weekdayRoom = 6   // a day named by its weekday is the last one so called, at most so many days ago
)

// Line is what came back of one skill, once: how often it was right, or how the dog looked.
type Line struct {
	Skill                    int // index in the list of skills
	Met, Of                  int // right, and how often it was tried; of faces Of is their sum
	Relaxed, Unsure, Worried int // of what the dog was exposed to or handled with
	Place, Remark            string
	Day                      string // YYYY-MM-DD
}

// Looks are the words for how a dog looked that a line may hold, from the best to the worst.
func Looks() []string { return []string{"relaxed", "unsure", "worried"} }

// Skill is one of those that a line can name.
type Skill struct {
	Name  string
	Cue   string // by which people call it too, "" for none
	Faces bool   // reported by how the dog looked
}

var (
	counted = regexp.MustCompile(`^(\d{1,4})\s*(?:/|of|out of)\s*(\d{1,4})(?:$|[^\d\pL])`)
	looked  = regexp.MustCompile(`^(?:(\d{1,4})\s*(?:×|x)?\s*)?(relaxed|unsure|worried)(?:$|[^\pL])`)
)

// Read reads what a household sent, as people write it: “sit 4 of 5 hall Mo”, “brush 3 relaxed 1 unsure, she licked her lips”. Each skill
// begins a line, wherever it stands; what follows its count is the place, what follows a comma a remark, and a day is one of the last week,
// “yesterday” or a date, YYYY-MM-DD; none is today. The problem is a sentence for the page, "" where there is none; then no line is
// given, so that nothing is kept twice when the text was mended.
func Read(text string, skills []Skill, today string) (lines []Line, problem string) {
	for _, row := range strings.FieldsFunc(text, func(r rune) bool { return r == '\n' || r == '\r' || r == ';' }) {
		rest := strings.TrimSpace(row)
		for first := true; rest != ""; first = false {
			day := ""
			at, tail := named(rest, skills)
			count, end, found := tally(tail)
			if at < 0 || !found {
				var after string
				day, after = leading(rest, today)
				at, tail = named(after, skills)
				count, end, found = tally(tail)
			}
			if at < 0 || !found {
				part, more, _ := strings.Cut(rest, ",")
				part, rest = strings.TrimSpace(part), strings.TrimSpace(more)
				if first || begins(part) {
					return nil, unread(part, at, skills)
				}
				lines[len(lines)-1].says(part, today)
				continue
			}
			one := Line{Skill: at, Day: day, Met: count.Met, Of: count.Of, Relaxed: count.Relaxed, Unsure: count.Unsure, Worried: count.Worried}
			place, more, _ := strings.Cut(end, ",")
			one.where(strings.TrimSpace(place), today)
			rest = strings.TrimSpace(more)
			if lines = append(lines, one); len(lines) > MostLines {
				return nil, fmt.Sprintf("At most %d lines at once.", MostLines)
			}
		}
	}
	for i := range lines {
		lines[i].Day = cmp.Or(lines[i].Day, today)
		if problem := lines[i].check(skills, today); problem != "" {
			return nil, problem
		}
	}
	if len(lines) == 0 {
		return nil, "Write what came back, such as “" + example(skills) + "”."
	}
	return lines, ""
}

// Check is what is wrong with a line that was put together by a form or a file, "" where nothing is.
func (l Line) Check(skills []Skill, today string) string {
	if l.Skill < 0 || l.Skill >= len(skills) {
		return "This skill is not on the sheet."
	}
	return l.check(skills, today)
}

func (l Line) check(skills []Skill, today string) string {
	skill := skills[l.Skill]
	ago, ok := standing.Days(l.Day, today)
	faces := l.Relaxed + l.Unsure + l.Worried
	switch {
	case !ok || ago < 0:
		return fmt.Sprintf("%s: a day up to today, such as Mo, yesterday or %s.", skill.Name, today)
	case ago > OldestDays:
		return fmt.Sprintf("%s: %s is more than %d days ago.", skill.Name, l.Day, OldestDays)
	case skill.Faces && (l.Met > 0 || faces != l.Of):
		return fmt.Sprintf("%s is reported by how it looked, such as “%s 3 relaxed 1 unsure”.", skill.Name, skill.Name)
	case !skill.Faces && faces > 0:
		return fmt.Sprintf("%s is reported by how often it was right, such as “%s 4 of 5”.", skill.Name, skill.Name)
	case l.Of < 1 || l.Of > MostOf:
		return fmt.Sprintf("%s: from 1 to %d times.", skill.Name, MostOf)
	case l.Met < 0 || l.Met > l.Of:
		return fmt.Sprintf("%s: %d of %d cannot be.", skill.Name, l.Met, l.Of)
	case min(l.Relaxed, l.Unsure, l.Worried) < 0:
		return fmt.Sprintf("%s: less than none cannot be.", skill.Name)
	case utf8.RuneCountInString(l.Place) > MostText || utf8.RuneCountInString(l.Remark) > MostText:
		return fmt.Sprintf("%s: at most %d characters a remark.", skill.Name, MostText)
	}
	return ""
}

// says adds a part that follows a comma: a day alone is the day, the rest is a remark.
func (l *Line) says(part string, today string) {
	if day := dayOf(part, today); day != "" && l.Day == "" {
		l.Day = day
		return
	}
	if l.Remark != "" {
		part = l.Remark + ", " + part
	}
	l.Remark = part
}

// where reads what follows a count: the place, and a day at its end.
func (l *Line) where(text string, today string) {
	words := strings.Fields(text)
	if n := len(words); n > 0 && l.Day == "" {
		if day := dayOf(words[n-1], today); day != "" {
			l.Day, words = day, words[:n-1]
		}
	}
	l.Place = strings.Trim(strings.Join(words, " "), " .")
}

// leading takes a day off the beginning.
func leading(text string, today string) (day, rest string) {
	word, after, more := strings.Cut(text, " ")
	if day = dayOf(strings.TrimRight(word, ":."), today); day != "" && more {
		return day, strings.TrimSpace(after)
	}
	return "", text
}

// named finds the skill that a text begins with: its whole name or its cue, the longest first, or a word of one name alone.
func named(text string, skills []Skill) (at int, rest string) {
	const quotes = "“”\"' "
	at, size := -1, 0
	text = strings.TrimLeft(text, quotes)
	for i, one := range skills {
		for _, name := range []string{one.Name, one.Cue, bare(one.Cue), quoted(one.Cue)} {
			name = strings.TrimRight(strings.TrimLeft(name, quotes), " ")
			if len(name) > size && len(text) >= len(name) && strings.EqualFold(text[:len(name)], name) && ends(text[len(name):]) {
				at, size = i, len(name)
			}
		}
	}
	if at >= 0 {
		return at, strings.TrimLeft(text[size:], " :”\"'")
	}
	word, after, _ := strings.Cut(text, " ")
	word = strings.ToLower(strings.TrimRight(word, ":"))
	for i, one := range skills {
		if slices.ContainsFunc(strings.Fields(strings.ToLower(one.Name)), func(w string) bool { return bare(w) == word }) {
			if at >= 0 {
				return -1, text // of two of them
			}
			at = i
		}
	}
	if at < 0 {
		return -1, text
	}
	for own := strings.ToLower(skills[at].Name); ; { // further words of its name
		next, more, _ := strings.Cut(strings.TrimSpace(after), " ")
		if next == "" || !strings.Contains(own, strings.ToLower(strings.TrimRight(next, ":"))) {
			return at, strings.TrimSpace(after)
		}
		after = more
	}
}

// bare is a word without what stands around it.
func bare(word string) string { return strings.Trim(word, " .,:;!?“”\"'") }

// quoted is what stands in quotes first, as the word of a cue that is told with more: “touch” with an open palm.
func quoted(cue string) string {
	_, rest, _ := strings.Cut(cue, "“")
	word, _, _ := strings.Cut(rest, "”")
	return word
}

// ends tells whether a word is over where the rest of a text begins.
func ends(rest string) bool {
	next, _ := utf8.DecodeRuneInString(rest)
	return rest == "" || !unicode.IsLetter(next) && !unicode.IsDigit(next)
}

// tally reads a count at the beginning of a text.
func tally(text string) (l Line, rest string, found bool) {
	lower := strings.ToLower(text)
	if len(lower) != len(text) {
		lower = text // a letter of another length: as it was written
	}
	if m := counted.FindStringSubmatchIndex(lower); m != nil {
		l.Met, _ = strconv.Atoi(lower[m[2]:m[3]])
		l.Of, _ = strconv.Atoi(lower[m[4]:m[5]])
		return l, strings.TrimSpace(text[m[5]:]), true
	}
	for {
		m := looked.FindStringSubmatchIndex(lower)
		if m == nil || found && m[2] < 0 { // a look behind the first is counted: “3 relaxed, worried about the gull” is a remark
			l.Of = l.Relaxed + l.Unsure + l.Worried
			return l, text, found
		}
		found = true
		n := 1
		if m[2] >= 0 {
			n, _ = strconv.Atoi(lower[m[2]:m[3]])
		}
		switch lower[m[4]:m[5]] {
		case "relaxed":
			l.Relaxed += n
		case "unsure":
			l.Unsure += n
		default:
			l.Worried += n
		}
		text, lower = strings.TrimLeft(text[m[5]:], " "), strings.TrimLeft(lower[m[5]:], " ")
		if after, ok := strings.CutPrefix(lower, "and "); ok {
			text, lower = text[len(text)-len(after):], after
		}
	}
}

// begins tells whether a part has a count, and so was meant to be a line of its own.
func begins(part string) bool {
	words := strings.Fields(strings.ToLower(part))
	for i := 1; i < len(words); i++ {
		if counted.MatchString(strings.Join(words[i:], " ")) {
			return true
		}
	}
	return false
}

var weekdays = []string{"sunday", "monday", "tuesday", "wednesday", "thursday", "friday", "saturday"}

// dayOf reads one word as a day, YYYY-MM-DD; "" where it is none.
func dayOf(word, today string) string {
	word = strings.ToLower(strings.Trim(word, " ."))
	now, _ := standing.Day(today)
	switch n, ok := standing.Day(word); {
	case word == "today":
		return today
	case word == "yesterday":
		return standing.Named(now - 1)
	case ok && standing.Named(n) == word: // no 31st of June
		return word
	case len(word) < 2:
		return ""
	}
	for back := range weekdayRoom + 1 {
		const thursday = 4 // the first of January 1970
		if strings.HasPrefix(weekdays[(now-back+thursday)%7], word) {
			return standing.Named(now - back)
		}
	}
	return ""
}

// unread says why a part could not be read.
func unread(part string, at int, skills []Skill) string {
	part = clip(part)
	if at >= 0 {
		return fmt.Sprintf("“%s”: say how it went, such as “%s”.", part, exampleOf(skills[at]))
	}
	names := make([]string, len(skills))
	for i, one := range skills {
		names[i] = one.Name
	}
	return fmt.Sprintf("“%s” begins with none of: %s.", part, strings.Join(names, " · "))
}

func example(skills []Skill) string {
	if len(skills) == 0 {
		return "sit 4 of 5 hall Mo"
	}
	return exampleOf(skills[0])
}

func exampleOf(skill Skill) string {
	if skill.Faces {
		return skill.Name + " 3 relaxed 1 unsure hall Mo"
	}
	return skill.Name + " 4 of 5 hall Mo"
}

func clip(text string) string {
	if runes := []rune(text); len(runes) > 40 {
		return string(runes[:40]) + "…"
	}
	return text
}
