package page

import (
	"context"
	"errors"
	"time"

	"ashshelf/device"
	"ashshelf/shop/journal"
	"ashshelf/soap/unit"
)

// OffScale types into a field what the bench scale shows, once it stands still.
func (s *Kit) OffScale(f *Form, field string) {
	watch := s.Devices.Watch(device.Scale)
	if watch == nil {
		f.Problems.Add(field, "there is no scale on the bench: type what it reads")
		return
	}
	state, _, _ := watch.State()
	switch now := state.Reading; {
	case !state.On:
		f.Problems.Add(field, "the scale cannot be read: %s", state.Err)
	case !now.Fresh(time.Now()):
		f.Problems.Add(field, "the scale has said nothing new for some seconds: look whether it is well, and press again")
	case now.Over:
		f.Problems.Add(field, "it is more than the scale can carry")
	case !now.Stable:
		f.Problems.Add(field, "the scale is still moving: press again when it stands still")
	case now.Value <= 0:
		f.Problems.Add(field, "nothing lies on the scale")
	default:
		f.Set(field, unit.FieldMass(now.Value, f.System))
	}
}

// Reading finds what a device showed.
func (s *Kit) Reading(k device.Kind, number int64) (device.Reading, bool) {
	w := s.Devices.Watch(k)
	if w == nil {
		return device.Reading{}, false
	}
	return w.Reading(number)
}

// FindDevices looks for the devices that the settings name. A shop that is not
// founded yet names none.
func (s *Kit) FindDevices(ctx context.Context) error {
	if s.Devices == nil {
		return nil
	}
	settings, err := s.Shop.Settings(ctx)
	if errors.Is(err, journal.ErrNotFounded) {
		return nil
	}
	if err != nil {
		return err
	}
	s.Devices.Find(device.Scale, settings.ScaleAt)
	s.Devices.Find(device.Probe, settings.ProbeAt)
	return nil
}
