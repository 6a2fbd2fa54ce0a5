package main

import (
	"bytes"
	"net"
	"strings"
	"testing"

	"github.com/stretchr/testify/assert"
	"github.com/stretchr/testify/require"

	"ashshelf/device/sim"
)

func TestALineAtTheTerminalTellsADeviceWhatHappens(t *testing.T) {
	devices := map[string]*sim.Device{"scale": sim.NewScale(1), "probe": sim.NewProbe(1)}
	for line, ok := range map[string]bool{"scale pour 350": true, "probe heat 60": true, " scale lift ": true, "": true,
		"kettle boil": false, "scale": false, "scale pour much": false} {
		if err := tell(devices, line); ok {
			assert.NoError(t, err, line)
		} else {
			assert.Error(t, err, line)
		}
	}
}

func TestTheSimulatorSaysWhenItsPlaceIsTaken(t *testing.T) {
	l, err := net.Listen("tcp", "127.0.0.1:0")
	require.NoError(t, err)
	defer l.Close()
	var out, errs bytes.Buffer
	assert.Equal(t, 1, runSim([]string{"-scale", l.Addr().String(), "-probe", l.Addr().String()}, strings.NewReader(""), &out, &errs))
	assert.Equal(t, 0, runSim([]string{"-h"}, strings.NewReader(""), &out, &errs))
	assert.Contains(t, errs.String(), "-probe")
}
