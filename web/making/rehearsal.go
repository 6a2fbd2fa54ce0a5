package making

import (
	"net/http"

	"ashshelf/device"
	"ashshelf/soap/rehearse"
	"ashshelf/soap/run"
	"ashshelf/store"
)

// scene plays what goes wrong at a step of a rehearsal: the stand-ins are told once, and the maker what
// she sees. to is the step that she finds herself at instead, empty for the same.
func (s *Room) scene(lot string, step run.Step, done bool) (says, to string, err error) {
	if s.Rehearsed == nil || s.Rehearsed.Lot != lot {
		return "", "", nil
	}
	scene, first := s.Rehearsed.At(step.Key)
	if scene == nil || done {
		return s.Rehearsed.Says(), "", nil
	}
	if first {
		for kind, command := range map[device.Kind]string{device.Scale: scene.Scale, device.Probe: scene.Probe} {
			if command == "" {
				continue
			}
			if err := s.Devices.Tell(kind, command); err != nil {
				return "", "", err
			}
		}
		if scene.To != "" {
			return "", scene.To, nil
		}
	}
	return scene.Says, "", nil
}

// rehearsal tells what became of each slip.
func (s *Room) rehearsal(w http.ResponseWriter, r *http.Request) error {
	if s.Rehearsed == nil {
		return store.ErrNotFound
	}
	l, err := s.Shop.Lot(r.Context(), s.Rehearsed.Lot)
	if err != nil {
		return err
	}
	return s.Show(w, r, http.StatusOK, "rehearsal", "How it went", "Make", nil, struct {
		OID    string
		Poured bool
		Seen   []rehearse.Seen
	}{l.OID, l.Pour != nil, rehearse.Judge(s.Rehearsed.Scenes, l)})
}
