package main

import (
	"net"
	"testing"

	"github.com/stretchr/testify/require"
)

func TestWhatPhonesAreTold(t *testing.T) {
	own := []string{"localhost", "127.0.0.1", "::1", "quay", "quay.local"}
	for _, one := range []struct {
		more, outside []string
		want          string
	}{
		{[]string{"fd00::2", "192.168.4.7"}, nil, "192.168.4.7"},
		{[]string{"fd00::2", "203.0.113.9"}, []string{"203.0.113.9"}, "fd00::2"},
		{[]string{"203.0.113.9"}, []string{"203.0.113.9"}, "quay.local"},
		{nil, nil, "quay.local"},
	} {
		require.Equal(t, one.want, reachedAs(append(own, one.more...), one.outside))
	}
	require.Equal(t, "quay.example", reachedAs([]string{"localhost", "127.0.0.1", "::1", "quay.example"}, nil))
}

func TestItsOwnBrowserIsSentToAnAddressThatItCanOpen(t *testing.T) {
	for listens, want := range map[string]string{
		"0.0.0.0:8420": "https://localhost:8420", "[::]:8420": "https://localhost:8420",
		"127.0.0.1:8420": "https://127.0.0.1:8420", "192.168.4.7:8420": "https://192.168.4.7:8420",
	} {
		addr, err := net.ResolveTCPAddr("tcp", listens)
		require.NoError(t, err)
		require.Equal(t, want, servedAt("https", addr))
	}
}
