package deal

import (
	"encoding/binary"
	"hash/fnv"
)

// Decoys says which movements of a visit are decoys: one in In, 2 or more; none where In is less. The zero value deals none. It may be
// shared.
type Decoys struct {
	Seed uint64
	In   int
}

// Movement is one that was made: a decoy, or a real one and the state (0 to 4) that the dog showed.
type Movement struct {
	Decoy bool
	State int
}

// wary is the state from which on no decoy follows.
const wary = 2

// Next tells whether the movement after those made, oldest first, is a decoy.
func (d Decoys) Next(made []Movement) bool {
	n := len(made)
	if d.In < 2 || n == 0 || made[n-1].Decoy || made[n-1].State >= wary {
		return false
	}
	owed := n / d.In
	if n%d.In >= d.place(n/d.In) {
		owed++
	}
	for _, one := range made {
		if one.Decoy {
			owed--
		}
	}
	return owed > 0
}

// Ahead tells of the next few movements whether they are decoys, as long as the dog stays at ease.
func (d Decoys) Ahead(made []Movement, few int) (ahead []bool) {
	made = append([]Movement(nil), made...)
	for range few {
		next := d.Next(made)
		ahead = append(ahead, next)
		made = append(made, Movement{Decoy: next})
	}
	return ahead
}

// Shows tells whether the decoy after so many others is one at which the tool is taken out, paid, and put away untouched: of each two
// one is, by the seed. It is asked where there is a tool to show.
func (d Decoys) Shows(before int) bool {
	first := hash(d.Seed, -1-before/2)%2 == 0
	return (before%2 == 0) == first
}

// place is where in a group of In movements the seed put its decoy; of the first group it is never the first.
func (d Decoys) place(group int) int {
	if group == 0 {
		return 1 + int(hash(d.Seed, group)%uint64(d.In-1))
	}
	return int(hash(d.Seed, group) % uint64(d.In))
}

// hash is a figure by chance that is the same everywhere for a seed and a place.
func hash(seed uint64, at int) uint64 {
	var raw [16]byte
	binary.LittleEndian.PutUint64(raw[:], seed)
	binary.LittleEndian.PutUint64(raw[8:], uint64(at))
	h := fnv.New64a()
	h.Write(raw[:])
	x := h.Sum64() // whose low bits alone are not even enough
	x ^= x >> 33
	x *= 0xff51afd7ed558ccd
	return x ^ x>>33
}
