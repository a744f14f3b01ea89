package record

// Uncounted is how many pieces of food the dog ate beyond those that were logged, and with what: by what was counted out and what was left
// when the last block ended. It is 0 where nobody counted, and where fewer are gone than were paid.
func (s *Session) Uncounted() (pieces int, of string) {
	n := len(s.Blocks)
	if n == 0 || s.Pieces == nil || s.Blocks[n-1].Left == nil {
		return 0, ""
	}
	pieces, of = *s.Pieces-*s.Blocks[n-1].Left, s.Food
	for _, p := range s.Pays {
		if pieces -= p.Pieces; p.Pieces > 0 {
			of = p.With
		}
	}
	return max(0, pieces), of
}
