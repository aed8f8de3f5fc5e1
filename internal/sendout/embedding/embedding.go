// Package embedding gives pictures to websites: embeds, sites with a picker, public addresses, and logos.
package embedding

import (
	"brightsatchel/internal/renditions"
	"brightsatchel/internal/store"
)

// Service gives pictures to websites.
type Service struct {
	DB         *store.DB
	Renditions *renditions.Service
}
