package app

import (
	"time"
)

func (s Profile) Moment(ms int64) string {
	return time.UnixMilli(ms).In(s.Zone).Format("2 Jan 2006, 15:04")
}
