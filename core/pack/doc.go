// Package pack is what a device carries of a plan to run it without a server: its ladder and rules, and where the dog is on it.
//
// One function builds it, Make, out of what the plan says and what package standing worked out of the record. A server does so from
// its rows; a phone, after a session without a signal, from the session that it ran (Leave). The two are the same pack:
//
//	made := pack.Make(pack.Pack{Plan: "…", Steps: steps, Rule: rule}, stands, pack.RecordOf(steps, reached, trials, since, covers))
//
// A Pack is not changed by what reads it; a copy of one shares its lists, so whoever changes a list changes a clone.
package pack
