// Package care tells how a dog takes what is done for its care: claws, ears, teeth, coat, drops.
//
// A cell is a site of the body with a tool, for one handler: the left fore paw with the clipper, say. Each touch of it is an exposure with
// a state from 0 (expects good) to 4 (over). The level of a cell is the worst state of its last three exposures, and the dog is at ease in
// it where none of three was worse than 1. Work goes over all sites with one tool before the next tool comes out, so a cell is asked
// whether the dog is ready for that: at ease, on more than one day, from the first touch of a visit on, and lately.
//
// The dog may leave, and pulling away means let go. Nothing here says what a site needs: pain, bleeding or illness is for a veterinarian.
//
// All of it is pure; values may be shared.
package care
