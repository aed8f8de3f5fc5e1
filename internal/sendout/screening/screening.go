// Package screening plays pictures on screens.
package screening

import "brightsatchel/internal/store"

// Service plays pictures on screens.
type Service struct{ DB *store.DB }
