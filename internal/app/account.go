package app

func BoolInt(b bool) int {
	if b {
		return 1
	}
	return 0
}
