// Package record is the log of a session, and the fold that turns it into blocks, trials, pays and moves.
//
// Events are only ever added. What they mean does not depend on when or in which order they arrived: any permutation with duplicates folds
// to the same Session. Check is the door, with the bounds of every field; Fold reads whatever an older door took. An amend sets fields of
// another event, a retract takes one back.
//
//	log := record.NewLog(events...)
//	session := log.Fold(book) // under the versions of plans and skills that book knows
//
// A log that grows is followed by a Reader, which reads on from where it was.
//
// A Log and its Readers are used by one goroutine at a time. The Session of Fold may be shared while it is only read; that of a Reader is
// gone on with.
package record
