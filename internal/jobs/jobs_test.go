package jobs_test

import (
	"context"
	"fmt"
	"io"
	"log/slog"
	"testing"
	"time"

	"github.com/stretchr/testify/require"

	"patientfox/internal/jobs"
)

// Computations queue, up to a bound; one that fails says so, and the program goes on.
func TestComputationsQueueAndFailAlone(t *testing.T) {
	queue := jobs.New(slog.New(slog.NewTextHandler(io.Discard, nil)))
	start := func(key string, work func(context.Context) error) error {
		_, err := queue.Start(key, "here", func(ctx context.Context, _ func(float64)) (any, error) { return nil, work(ctx) })
		return err
	}
	failed := func(key string) bool {
		one := queue.Find(key, "here")
		if one == nil || !one.Ready() {
			return false
		}
		_, err := one.Result()
		return err != nil
	}
	gate := make(chan struct{})
	for n := range 11 {
		require.NoError(t, start(fmt.Sprint("job ", n), func(ctx context.Context) error {
			select {
			case <-gate:
			case <-ctx.Done():
			}
			return ctx.Err()
		}))
	}
	require.ErrorIs(t, start("one more", nil), jobs.ErrQueue)
	require.NoError(t, start("job 3", nil), "the same once more is the one that waits")
	close(gate)
	require.Eventually(t, func() bool { return start("that fails", func(context.Context) error { panic("a fault") }) == nil },
		5*time.Second, time.Millisecond)
	require.Eventually(t, func() bool { return failed("that fails") }, 5*time.Second, time.Millisecond)
	require.NoError(t, start("endless", func(ctx context.Context) error { <-ctx.Done(); return ctx.Err() }))
	queue.Close()
}

// A computation that takes long holds up other long ones, and no short one.
func TestLongComputationsHoldUpNoShortOne(t *testing.T) {
	queue := jobs.New(slog.New(slog.NewTextHandler(io.Discard, nil)))
	defer queue.Close()
	gate := make(chan struct{})
	blocked := func(ctx context.Context, _ func(float64)) (any, error) {
		select {
		case <-gate:
		case <-ctx.Done():
		}
		return nil, ctx.Err()
	}
	quick := func(context.Context, func(float64)) (any, error) { return 7, nil }
	first, err := queue.StartLong("first", "here", blocked)
	require.NoError(t, err)
	require.Eventually(t, func() bool {
		short, err := queue.Start("short", "here", quick)
		require.NoError(t, err)
		return short.Ready()
	}, 5*time.Second, time.Millisecond)
	whole, err := queue.StartWhole("whole", "here", quick)
	require.NoError(t, err)
	require.True(t, whole.Wait(5*time.Second), "nor do they hold up each other's sort")
	second, err := queue.StartLong("second", "here", quick)
	require.NoError(t, err)
	require.False(t, first.Ready() || second.Ready())
	close(gate)
	require.True(t, second.Wait(5*time.Second))
	found, err := second.Result()
	require.NoError(t, err)
	require.Equal(t, 7, found)
}
