package record

import "patientfox/core/trial"

// twiceS is within how many seconds two devices close one touch.
const twiceS = 3.0

// Twice tells whether a touch that a helper's device logged is one that was logged by the session's own device too: at the same site, as
// far as the helper says which, while that one lasted, or closed within three seconds of it. Two people do not touch one site at once.
func (s *Session) Twice(t *trial.Trial) bool {
	if !t.Waits || t.State == nil {
		return false
	}
	for i := range s.Trials {
		o := &s.Trials[i]
		if o.Waits || o.PutIn || o.Tally || o.Dev == t.Dev || o.Block != t.Block || o.Site == "" || t.Site != "" && o.Site != t.Site {
			continue
		}
		if t.At >= o.From && t.At <= o.At+twiceS || o.At-t.At <= twiceS && t.At <= o.At {
			return true
		}
	}
	return false
}
