package main

// private has nothing to do here: a user's own folders are closed to others.
func private() {}
