// Package session is one running session: a cache over its log that knows its phase and answers every key with the events that it
// means. It runs in the browser, so that a phone decides without a signal, and on the server, where the demo practice is made with it.
// It knows no sentence: package screen puts what it says into words.
//
//	run, _ := session.Open(pack)            // of a plan
//	drafts, _ := run.Begin(session.Choice{Place: "shed"})
//	run.Apply(events)                       // the drafts, once they have their names and numbers
//	run.Press(work.Main, 12_000)            // at 12 s: what the large key means now, as drafts
//
// A Run is used by one goroutine at a time.
package session
