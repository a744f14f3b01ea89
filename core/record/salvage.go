package record

import "fmt"

// Unreadable says that a log cannot be folded: a fault of the fold that one of its events lays open. The events are
// unharmed.
type Unreadable struct{ Fault any }

func (u *Unreadable) Error() string { return fmt.Sprintf("the log cannot be folded: %v", u.Fault) }

// Read folds events under the versions in book. A fault of the fold comes back as *Unreadable, so that one log that cannot
// be read never stops the reading of others.
func Read(book Book, events ...Event) (log *Log, s *Session, err error) {
	defer func() {
		if fault := recover(); fault != nil {
			log, s, err = nil, nil, &Unreadable{fault}
		}
	}()
	log = NewLog(events...)
	s = log.Fold(book)
	return log, s, nil
}

// Salvage finds which events of a log have to be left out so that the rest can be read, as readable tells. It adds
// events by halves and leaves out the single ones with which reading fails, later ones where two do not go together;
// about n·log₂(n) events are read anew for each one left out. The order is kept.
func Salvage(events []Event, readable func([]Event) bool) (kept []Event, left []string) {
	var add func(part []Event)
	add = func(part []Event) {
		tried := append(kept[:len(kept):len(kept)], part...)
		switch {
		case len(part) == 0:
		case readable(tried):
			kept = tried
		case len(part) == 1:
			left = append(left, part[0].ID)
		default:
			add(part[:len(part)/2])
			add(part[len(part)/2:])
		}
	}
	add(events)
	return kept, left
}
