package care

import "slices"

// Task is something that is really done to a dog: again and again, or for a course of days.
type Task struct {
	Sites  []string
	Every  int  // days from one time to the next, 1 or more; 0 for a course
	Days   int  // of a course, 1 or more; 0 where it is done again and again
	PerDay int  // how often a day in a course; less than 1 counts as once
	From   int  // the day from which it is to be done
	Theirs bool // it is a veterinarian's or a groomer's to say how
	Named  bool // and one was named
}

// Done is one time at one site.
type Done struct {
	Site string
	Day  int
	Left bool   // something was left over
	Part string // of the site: which claw; "" for all of it
}

// Next is the day on which a task is due next, and the sites that are due then, those first of which something was left over. ok is false
// where nothing is due: a course that is over, or a task that is theirs while nobody was named.
//
// Again and again, a site is due so many days after it was done last, at once where something was left over, and from the task's first
// day on where it was never done. Of a paw whose claws are done one by one, claws are left over until each had its turn; a dew claw may be
// left. In a course each site is due so often on each of its days.
func (t Task) Next(done []Done, today int) (day int, sites []string, ok bool) {
	if t.Theirs && !t.Named || len(t.Sites) == 0 {
		return 0, nil, false
	}
	if t.Days > 0 {
		return t.course(done, today)
	}
	type due struct {
		site string
		day  int
		left bool
	}
	var all []due
	for _, site := range t.Sites {
		one := due{site: site, day: t.From}
		var had []string // of its parts, since the last time that nothing was left over
		for _, d := range done {
			if d.Site != site {
				continue
			}
			left := d.Left
			if d.Part != "" {
				had = append(had, d.Part)
				left = left || !whole(had)
			}
			if !left {
				had = nil
			}
			one.day, one.left = d.Day+t.Every, left
			if left {
				one.day = d.Day + 1
			}
		}
		all = append(all, one)
	}
	day = slices.MinFunc(all, func(a, b due) int { return a.day - b.day }).day
	slices.SortStableFunc(all, func(a, b due) int {
		if a.left != b.left && a.left {
			return -1
		} else if a.left != b.left {
			return 1
		}
		return 0
	})
	for _, one := range all {
		if one.day <= max(day, today) {
			sites = append(sites, one.site)
		}
	}
	return day, sites, true
}

// Due are the days from today to another one on which a task is due, as long as it is done whenever it is due; one that was due before is
// due today.
func (t Task) Due(done []Done, today, to int) (days []int) {
	day, _, ok := t.Next(done, today)
	if !ok {
		return nil
	}
	step := t.Every
	if t.Days > 0 {
		step, to = 1, min(to, t.From+t.Days-1)
	}
	for day = max(day, today); day <= to; day += step {
		days = append(days, day)
	}
	return days
}

func (t Task) course(done []Done, today int) (day int, sites []string, ok bool) {
	for day = max(today, t.From); day < t.From+t.Days; day++ {
		for _, site := range t.Sites {
			n := 0
			for _, d := range done {
				if d.Site == site && d.Day == day {
					n++
				}
			}
			if n < max(1, t.PerDay) {
				sites = append(sites, site)
			}
		}
		if len(sites) > 0 {
			return day, sites, true
		}
	}
	return 0, nil, false
}
