package store

// OpenBounded opens a database that keeps at most a number of statements of the readers.
var OpenBounded = open
