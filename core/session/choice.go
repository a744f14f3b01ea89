package session

// Choice is what is chosen before a session, or its next block, begins.
type Choice struct {
	Class     string `json:"class"` // in whose meeting it is worked, by id; "" for none
	Place     string `json:"place"`
	PlaceName string `json:"place_name"` // of pack.NewPlace, as typed
	PlaceID   string `json:"place_id"`   // UUID for it, if nobody has named it yet
	Handler   string `json:"handler"`
	Holds     string `json:"holds"`      // who holds the dog, "" for the handler
	Feeds     string `json:"feeds"`      // who feeds it, likewise
	Step      string `json:"step"`       // "" is the step advised
	Pieces    string `json:"pieces"`     // counted out, as typed
	Mode      string `json:"mode"`       // train, or one of record's modes; "" for what the plan needs
	Food      string `json:"food"`       // in the hand; "" is the one that fits
	Finish    bool   `json:"finish"`     // the easy one at the end
	ClearedBy string `json:"cleared_by"` // who cleared a plan that the dog's flags rule out
	Tags      string `json:"tags"`       // how it is there: words with commas between
	Ready     bool   `json:"ready"`      // a readiness test first
	Deck      bool   `json:"deck"`       // deal the plan's deck
	Quota     string `json:"quota"`      // trials before the other side's turn, as typed
	With      bool   `json:"with"`       // in turn with what is worked now: mixed, or the other dog's
	Interlude int    `json:"interlude"`  // for so many trials, then back to what is worked now; 0 for a block of its own
}
