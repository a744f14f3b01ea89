package session

import (
	"strconv"
	"strings"
)

// Problem is what is wrong with a field: a code, and the figures that explain it.
// Package screen puts it into words.
type Problem struct {
	Field string
	Code  ProblemCode
	N     int // what was typed, or how long it is
	Most  int // what could stand
}

// ProblemCode says what is wrong with something typed.
type ProblemCode string

// What can be wrong.
const (
	NeedsClearance ProblemCode = "needs_clearance" // the dog's flags rule the plan out, and nobody is said to have cleared it
	NotInList      ProblemCode = "not_in_list"
	NotKnown       ProblemCode = "not_known"  // nobody of the practice
	WorkedNow      ProblemCode = "worked_now" // the skill to be worked in turn is the one that is worked
	StepGone       ProblemCode = "step_gone"
	NotBetween     ProblemCode = "not_between"     // while a trial is under way
	AboveMain      ProblemCode = "above_main"      // a step above the main handler's
	NotShown       ProblemCode = "not_shown"       // a safety step that was not shown to the handler
	NoRecord       ProblemCode = "no_record"       // a safety step, and the handler has no record at the one below
	NotWhole       ProblemCode = "not_whole"       // no whole number from 0 to Most
	MoreThanOut    ProblemCode = "more_than_out"   // more pieces left than the Most that were counted out
	TooLong        ProblemCode = "too_long"        // N characters, and at most Most
	TagTooLong     ProblemCode = "tag_too_long"    // a tag of more than Most characters
	TooManyTags    ProblemCode = "too_many_tags"   // N, and at most Most
	NoTallyHere    ProblemCode = "no_tally_here"   // a tally belongs between trials, and not to exposures
	NothingCounted ProblemCode = "nothing_counted" // a tally of none
	NotASet        ProblemCode = "not_a_set"       // a tally of N where a set has Most
	NothingWritten ProblemCode = "nothing_written"
	NotOneUp       ProblemCode = "not_one_up"     // no whole number from 1 to Most
	NotNamed       ProblemCode = "not_named"      // a new place without a name
	NeverSite      ProblemCode = "never_site"     // marked as never touched
	SoreSite       ProblemCode = "sore_site"      // marked as sore: picked once more it is touched
	DoneNotShown   ProblemCode = "done_not_shown" // what is really done was not shown to the handler
	NoSuchPart     ProblemCode = "no_such_part"   // a claw that the site does not have
	SiteOver       ProblemCode = "site_over"      // the dog pulled away there twice today
)

// whole reads a whole number as typed; nothing typed is not said.
func whole(field, typed string, most int) (*int, *Problem) {
	typed = strings.TrimSpace(typed)
	if typed == "" {
		return nil, nil
	}
	n, err := strconv.Atoi(typed)
	if err != nil || n < 0 || n > most {
		return nil, &Problem{Field: field, Code: NotWhole, Most: most}
	}
	return &n, nil
}
