package store

import (
	"crypto/rand"
	"crypto/sha256"
	"encoding/base64"
)

// NewSecret makes a token of 256 random bits that lets its holder in, for a cookie or an address: letters, digits, hyphens and underscores.
// What keeps it keeps Hashed of it alone.
func NewSecret() string {
	raw := make([]byte, 32)
	rand.Read(raw) //nolint:errcheck // never fails
	return base64.RawURLEncoding.EncodeToString(raw)
}

// Hashed is how a secret is kept: its SHA-256.
func Hashed(secret string) []byte {
	sum := sha256.Sum256([]byte(secret))
	return sum[:]
}
