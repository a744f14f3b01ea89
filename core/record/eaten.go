package record

// PaidPieces is how many pieces of food were paid in the session so far, as logged.
func (s *Session) PaidPieces() (n int) {
	for _, p := range s.Pays {
		n += p.Pieces
	}
	return n
}

// Eaten is how many pieces of food are gone: those counted out less those left when the last block ended; known is false where nobody
// counted.
func (s *Session) Eaten() (pieces int, known bool) {
	n := len(s.Blocks)
	if n == 0 || s.Pieces == nil || s.Blocks[n-1].Left == nil {
		return 0, false
	}
	return *s.Pieces - *s.Blocks[n-1].Left, true
}

// Uncounted is how many pieces of food the dog ate beyond those that were logged, and with what. It is 0 where nobody counted, and where
// fewer are gone than were paid.
func (s *Session) Uncounted() (pieces int, of string) {
	eaten, known := s.Eaten()
	if !known {
		return 0, ""
	}
	of = s.Food
	for _, p := range s.Pays {
		if p.Pieces > 0 {
			of = p.With
		}
	}
	return max(0, eaten-s.PaidPieces()), of
}
