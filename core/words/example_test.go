package words_test

import (
	"fmt"

	"chamfer/core/words"
)

func ExampleSpeech_Say() {
	const text = "Set turf aside; mitred caps go every 6 in (150 mm)."
	fmt.Println(words.Speech{American: true, Imperial: true}.Say(text))
	fmt.Println(words.Speech{}.Say(text))
	// Output:
	// Set sod aside; mitered caps go every 6 in.
	// Set turf aside; mitred caps go every 150 mm.
}
