//go:build !race

package web_test

// endless is how many events an endless session has.
const endless = 40_000
