package homework

import (
	"slices"
	"strings"
	"unicode"
)

// Ease is how easily an English text is read, by Flesch's formula: 206.835 − 1.015 × words a sentence − 84.6 × syllables a word. About
// 100 is very easy, below 50 difficult; it can lie below 0, and is at most 121.22, which is that of a text without a word. Syllables are
// counted as groups of vowels, without a silent e. Source: R. Flesch, "A new readability yardstick", J. Applied Psychology 32 (1948).
func Ease(text string) float64 {
	words, sentences, syllables := 0, 0, 0
	for _, sentence := range sentencesOf(text) {
		n := 0
		for _, word := range wordsOf(sentence) {
			n++
			syllables += syllablesOf(word)
		}
		if n > 0 {
			words, sentences = words+n, sentences+1
		}
	}
	if words == 0 {
		return 206.835 - 1.015 - 84.6
	}
	return 206.835 - 1.015*float64(words)/float64(sentences) - 84.6*float64(syllables)/float64(words)
}

// Hard is a text that a household may not follow.
type Hard struct {
	Text string
	Term string // a trainer's word in it, "" where it is the sentence that is hard
}

// difficult is the Ease below which a text is, and few from how many words on that says anything.
const (
	difficult = 50
	few       = 6
)

// terms are words of the trade that a household need not know, in the singular.
var terms = []string{
	"approximation", "contingency", "counter-conditioning", "counterconditioning", "criterion", "criteria", "desensitisation",
	"desensitization", "differential", "extinction", "generalisation", "generalization", "latency", "negative reinforcement", "operant",
	"positive reinforcement", "proofing", "reinforcer", "reinforcement", "shaping", "stimulus", "stimuli", "threshold",
}

// HardOf lists those among texts that a household may not follow, in their order: for a word of the trade, or for its reading ease.
func HardOf(texts ...string) (list []Hard) {
	for _, text := range texts {
		text = strings.TrimSpace(text)
		padded := " " + strings.Join(wordsOf(strings.ToLower(text)), " ") + " "
		at := slices.IndexFunc(terms, func(term string) bool {
			return strings.Contains(padded, " "+term+" ") || strings.Contains(padded, " "+term+"s ")
		})
		switch {
		case at >= 0:
			list = append(list, Hard{text, terms[at]})
		case len(wordsOf(text)) >= few && Ease(text) < difficult:
			list = append(list, Hard{Text: text})
		}
	}
	return list
}

// sentencesOf ends a sentence at a full stop, a question or exclamation mark, a semicolon, a colon or the end of a line; a point within
// a figure ends none.
func sentencesOf(text string) []string {
	runes := []rune(text)
	var list []string
	from := 0
	for i, r := range runes {
		figure := r == '.' && i+1 < len(runes) && unicode.IsDigit(runes[i+1])
		if strings.ContainsRune(".!?;:\n", r) && !figure {
			list, from = append(list, string(runes[from:i])), i+1
		}
	}
	return append(list, string(runes[from:]))
}

// wordsOf are the words and figures of a text, without the marks at their ends.
func wordsOf(text string) (words []string) {
	sign := func(r rune) bool { return !unicode.IsLetter(r) && !unicode.IsDigit(r) }
	for _, word := range strings.FieldsFunc(text, func(r rune) bool { return sign(r) && !strings.ContainsRune("’'-.", r) }) {
		if word = strings.TrimFunc(word, sign); word != "" {
			words = append(words, word)
		}
	}
	return words
}

func syllablesOf(word string) (n int) {
	word = strings.ToLower(word)
	before := false
	for _, r := range word {
		vowel := strings.ContainsRune("aeiouyäëïöüáéíóúàèìòùâêîôû", r)
		if vowel && !before {
			n++
		}
		before = vowel
	}
	if n > 1 && silent(word) {
		n--
	}
	return max(1, n)
}

// silent tells whether the last e of a word is not heard: "ate", "moves", "moved", but "little", "noses", "waited".
func silent(word string) bool {
	after := func(end, heard string) bool {
		stem, ends := strings.CutSuffix(word, end)
		return ends && (stem == "" || !strings.ContainsRune(heard, rune(stem[len(stem)-1])))
	}
	return after("e", "l") || after("es", "sxzcghl") || after("ed", "tdl")
}
