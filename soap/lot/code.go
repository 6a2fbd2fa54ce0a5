package lot

import (
	"fmt"
	"strconv"
	"strings"
)

// checkLetters leaves out letters that are misheard or misread for another
// letter or a digit. There are thirteen, a prime, so the letter shows every
// single wrong digit and every swap of neighbours.
const checkLetters = "AFHJKLMRSUWXY"

// Code is the name of lot number n, such as "214-K": a running number and a
// letter that catches a digit that was misread or misheard.
func Code(n int) string { return strconv.Itoa(n) + "-" + string(checkLetter(n)) }

func checkLetter(n int) byte {
	sum, weight := 0, 2
	for ; n > 0; n /= 10 {
		sum += n % 10 * weight
		weight = weight * 3 % 13
	}
	return checkLetters[sum%13]
}

// ParseCode reads a lot code as typed, with or without its dash, in either
// case. It says when the letter does not go with the number.
func ParseCode(text string) (n int, err error) {
	t := strings.ToUpper(strings.NewReplacer("-", "", " ", "").Replace(text))
	if len(t) < 2 {
		return 0, fmt.Errorf("a lot code looks like %s", Code(214))
	}
	n, err = strconv.Atoi(t[:len(t)-1])
	if err != nil || n <= 0 || n > 1e9 {
		return 0, fmt.Errorf("a lot code looks like %s", Code(214))
	}
	if t[len(t)-1] != checkLetter(n) {
		return 0, fmt.Errorf(
			"there is no lot %s: the letter does not go with the number, one of them is misread",
			strings.ToUpper(text),
		)
	}
	return n, nil
}
