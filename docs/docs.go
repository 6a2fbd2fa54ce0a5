// Package docs carries the guide inside the program, so that it can be read and searched at
// the bench without a network.
package docs

import "embed"

// Guide are the pages that a soap maker reads; the first is the one to begin with.
//
//go:embed using.md judgement.md record.md devices.md security.md
var Guide embed.FS
