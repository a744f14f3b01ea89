// Package journal is who changed what in a practice, and when, in sentences. The store keeps a row for each row that was changed; what
// was changed at once, by one form or one press, is a deed.
package journal
