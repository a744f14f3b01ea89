package copies

import "golang.org/x/sys/windows"

// freeBytes is how much a folder's disk has left for us.
func freeBytes(folder string) (free uint64, err error) {
	name, err := windows.UTF16PtrFromString(folder)
	if err != nil {
		return 0, err
	}
	err = windows.GetDiskFreeSpaceEx(name, &free, nil, nil)
	return free, err
}
