//go:build race

package web_test

// endless is how many events an endless session has: the race detector makes all of it twenty times slower.
const endless = 8_000
