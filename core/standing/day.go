package standing

import "fmt"

// Day counts a day written YYYY-MM-DD from 1 January 1970, in the Gregorian calendar; ok is false for what is not written so.
// Source: Fliegel and Van Flandern, "A machine algorithm for processing calendar dates", Communications of the ACM 11 (1968).
func Day(day string) (n int, ok bool) {
	if len(day) != 10 || day[4] != '-' || day[7] != '-' {
		return 0, false
	}
	figure := func(from, to int) (n int) {
		for _, c := range day[from:to] {
			ok = ok && c >= '0' && c <= '9'
			n = n*10 + int(c-'0')
		}
		return n
	}
	ok = true
	y, m, d := figure(0, 4), figure(5, 7), figure(8, 10)
	if ok = ok && m >= 1 && m <= 12 && d >= 1 && d <= 31; !ok {
		return 0, false
	}
	a := (m - 14) / 12
	const epoch = 32075 + 2440588 // the formula's own, and the Julian day of 1 January 1970
	return 1461*(y+4800+a)/4 + 367*(m-2-12*a)/12 - 3*((y+4900+a)/100)/4 + d - epoch, true
}

// Named is Day backwards: the day so many days after 1 January 1970, YYYY-MM-DD, from then to the end of the year 9999. Source: as of Day.
func Named(n int) string {
	l := n + 2440588 + 68569
	c := 4 * l / 146097
	l -= (146097*c + 3) / 4
	i := 4000 * (l + 1) / 1461001
	l += 31 - 1461*i/4
	j := 80 * l / 2447
	d := l - 2447*j/80
	l = j / 11
	return fmt.Sprintf("%04d-%02d-%02d", 100*(c-49)+i+l, j+2-12*l, d)
}

// Days counts the days from one day to another, fewer than none where the second comes first; ok is false where either is not
// a day.
func Days(from, to string) (n int, ok bool) {
	a, okA := Day(from)
	b, okB := Day(to)
	if !okA || !okB {
		return 0, false
	}
	return b - a, true
}
