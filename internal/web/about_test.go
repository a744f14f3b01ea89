package web_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/internal/practicetest"
)

func TestWhoseWorkItCarriesIsSaid(t *testing.T) {
	s := serve(t, practicetest.Empty(t))
	require.Contains(t, s.get("/settings").Body, `href="/about"`)
	about := s.get("/about")
	require.Equal(t, 200, about.Status)
	notices := s.get("/about/notices")
	if notices.Status == 404 {
		require.Contains(t, about.Body, "made without their texts")
		return // a bare build
	}
	require.Equal(t, 200, notices.Status)
	for _, part := range []string{
		"Atkinson Hyperlegible", "Lucide", "Alpine.js", "github.com/gofiber/fiber", "modernc.org/sqlite", "gonum.org",
	} {
		require.Contains(t, notices.Body, part)
	}
	require.Contains(t, about.Body, `href="/about/notices"`)
}
