package record

import "patientfox/core/decision"

// Excited is what a dog's arousal calls for at a moment, s, by what was noted of it until then and the breaks that were over by then.
func (s *Session) Excited(dog string, at float64) decision.Excitement {
	var noted []int
	breaks := s.Breaks
	for _, a := range s.Arousals {
		if a.At > at {
			break
		}
		if s.DogOf(a.Block) != dog {
			continue
		}
		for len(breaks) > 0 && breaks[0].To <= a.At {
			noted, breaks = append(noted, decision.Rested), breaks[1:]
		}
		noted = append(noted, a.Level)
	}
	for _, one := range breaks {
		if one.To <= at {
			noted = append(noted, decision.Rested)
		}
	}
	return decision.Excite(noted)
}
