package store

// Words that say on a row what it means. Each is spelled here, and in the migration
// that lets it in.

// MoveKind is why something went into a container or out of it.
type MoveKind string

// The reasons.
const (
	Made     MoveKind = "made"
	Drawn    MoveKind = "draw"
	Counted  MoveKind = "count" // set to what the scale says
	Watered  MoveKind = "water"
	Disposed MoveKind = "away"
)

// Words says the reason.
func (k MoveKind) Words() string {
	return map[MoveKind]string{Made: "Made", Drawn: "Drawn", Counted: "Set to the scale", Watered: "Water added",
		Disposed: "Disposed of"}[k]
}

// Status is whether a container may be used.
type Status string

// The states.
const (
	InUse      Status = "open"
	Quarantine Status = "quarantine"
	Gone       Status = "gone"
)

// Statuses returns the states.
func Statuses() []Status { return []Status{InUse, Quarantine, Gone} }

// NoteKind is what a note on a lot is.
type NoteKind string

// The kinds.
const (
	Remark    NoteKind = "note"
	Mishap    NoteKind = "incident" // as it was written before incidents had records of their own, and still by hand
	Abandoned NoteKind = "abandoned"
)
