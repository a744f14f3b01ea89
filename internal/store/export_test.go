package store

// OpenBounded opens a database that keeps at most so many statements of the readers.
var OpenBounded = open
