package trial

import (
	"cmp"
	"iter"
	"slices"
	"strings"
)

// Measures are what kinds of work beside cues and holds are measured by. Nil and 0 were not measured.
type Measures struct {
	Paces    int      `json:"paces,omitempty"`     // walked to the mark, or to the pull
	Pulls    int      `json:"pulls,omitempty"`     // of the line
	SlackS   *float64 `json:"slack_s,omitempty"`   // s until the line was slack again
	CheckIns int      `json:"check_ins,omitempty"` // in the free minute
	ReturnS  *float64 `json:"return_s,omitempty"`  // s from a thrown treat to the next check-in
	LeadS    *float64 `json:"lead_s,omitempty"`    // s from the signal to the distraction; negative: it came first
	OutS     *float64 `json:"out_s,omitempty"`     // s the distraction was out
	Offered  *int     `json:"offered,omitempty"`   // which approximation, as its place in the step's list
}

// fill takes from other what was not measured here.
func (m *Measures) fill(other Measures) {
	if m.Paces == 0 {
		m.Paces = other.Paces
	}
	if m.Pulls == 0 {
		m.Pulls = other.Pulls
	}
	if m.CheckIns == 0 {
		m.CheckIns = other.CheckIns
	}
	if m.ReturnS == nil {
		m.ReturnS = other.ReturnS
	}
	if m.OutS == nil {
		m.OutS = other.OutS
	}
}

// Touch is how a site was handled.
type Touch struct {
	Site   string `json:"site,omitempty"`   // on the body
	Tool   string `json:"tool,omitempty"`   // in the hand; "" is the step's
	Taken  bool   `json:"taken,omitempty"`  // the hand took it; else the dog offered it
	Pulled bool   `json:"pulled,omitempty"` // it pulled away, and was let go
	Done   bool   `json:"done,omitempty"`   // really done, and not only rehearsed
	Part   string `json:"part,omitempty"`   // of the site, where it was really done: which claw
	Eased  bool   `json:"eased,omitempty"`  // the site was sore: it is of the easiest step that asks for it with its tool
	Cell   bool   `json:"cell,omitempty"`   // it is of the step that asks for its site and tool; older ones are of the step then worked
}

// DoneAs says that it was really done, and which part.
func (t Touch) DoneAs() string {
	if t.Part == "" {
		return "really done"
	}
	return "really done: " + t.Part
}

// OnTrack is a site as a track has it: "ear, left". One that names its track already, and none, stay as they are.
func OnTrack(site, track string) string {
	if site == "" || track == "" || strings.HasSuffix(site, ", "+track) {
		return site
	}
	return site + ", " + track
}

// Sites are those of a visit, in the order in which they were touched first, by counted touches; nil where there was other work too, or
// where one step asked for several of them: a rate over several sites is of none of them.
func Sites(trials iter.Seq[*Trial]) (sites []string) {
	steps := map[[2]string]bool{}
	for t := range trials {
		if !t.Counted() {
			continue
		}
		if !t.Cell {
			return nil
		}
		steps[[2]string{t.Block, t.Step}] = true
		if !slices.Contains(sites, t.Site) {
			sites = append(sites, t.Site)
		}
	}
	if len(sites) < 2 || len(steps) < len(sites) {
		return nil
	}
	return sites
}

// With is how a site was handled, by what the beginning of an exposure said and what its end says.
func (t Touch) With(end Touch) Touch {
	end.Site, end.Tool, end.Part = cmp.Or(end.Site, t.Site), cmp.Or(end.Tool, t.Tool), cmp.Or(end.Part, t.Part)
	end.Taken, end.Done = end.Taken || t.Taken, end.Done || t.Done
	end.Eased, end.Cell = end.Eased || t.Eased, end.Cell || t.Cell
	return end
}

// UnderWay is a trial that has begun and is not closed yet. Moments are s of the session's clock, nil where they have not
// come.
type UnderWay struct {
	From     float64 // the first cue, or the start
	Hand     string  // the reward in the hand then, by id
	Cues     int
	Prompts  int    // times that the dog was helped
	Prompt   string // how the last time, "" where nobody said
	Helped   bool   // with help that the step did not plan
	Assisted bool   // with help that it plans
	Mark     *float64
	Released *float64
	CueEnd   *float64
	Looked   *float64 // the first check-in
	Pays     int      // so far

	Phases   []Phase  // that are over
	PhaseAt  float64  // since when the present one goes on
	Counted  Measures // so far
	Touch    Touch
	Signal   *float64 // the first cue, where a distraction may come before it
	Out      *float64 // when the distraction came out
	FedFirst bool     // food came before the stimulus
	Thrown   *float64 // when a treat was thrown
}

// Measured fills in what was counted while the trial was under way, as it closes at a moment.
func (u *UnderWay) Measured(m *Measures, at float64) {
	m.fill(u.Counted)
	if u.Out == nil {
		return
	}
	if m.OutS == nil {
		out := at - *u.Out
		m.OutS = &out
	}
	if m.LeadS == nil && u.Signal != nil {
		lead := *u.Out - *u.Signal
		m.LeadS = &lead
	}
}

// ByLine says of a trial, as what interrupted it, that the line made the response.
const ByLine = "the line did the work"

// WentEarly is the error of a dog that went before it was asked.
const WentEarly = "went before the cue"

// What is counted within a trial, or beside the trials.
const (
	Offer    = "offer"    // a behaviour that was offered without a cue
	PaceMade = "pace"     // one pace walked
	Pull     = "pull"     // of the line
	CheckIn  = "check_in" // a look that nobody asked for
	Throw    = "throw"    // a treat thrown away, to come back from
	Left     = "left"     // the dog, which is free to
	CameBack = "back"
	Growl    = "growl"    // a growl or a snap
	Position = "position" // in position again after a miss
	Withheld = "withheld" // a cue was not given, because it would not have been answered
)
