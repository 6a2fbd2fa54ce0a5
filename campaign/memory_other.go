//go:build !linux

package main

import "errors"

func (p *program) peak() (int64, error) {
	return 0, errors.New("how much memory the program takes is only known on Linux")
}
