// Package people is who works in the shop and how she comes in: who is at the bench, signing
// in and out, what each may do, her PIN and her passphrase, the devices of the shop, and the
// log of who came and was turned away.
package people

import (
	"embed"

	"ashshelf/web/page"
)

// Pages are the templates of the room.
//
//go:embed *.html
var Pages embed.FS

// Room shows it.
type Room struct{ *page.Kit }

// DoorRoutes are open before somebody is at the bench.
func (s *Room) DoorRoutes(r page.Routes) {
	r.Get("/who", s.who)
	r.Post("/who", s.come)
	r.Post("/out", s.leave)
	r.Get("/enrol/{code}", s.invitation)
	r.Post("/enrol/{code}", s.enrol)
}

// PeopleRoutes are the addresses of the people and the devices.
func (s *Room) PeopleRoutes(r page.Routes) {
	r.Get("/you", s.you)
	r.Post("/you/{act}", s.changeOwn)
	r.Get("/people", s.people)
	r.Post("/people", s.addPerson)
	r.Get("/people/log", s.log)
	r.Get("/people/{id}", s.person)
	r.Post("/people/{id}/{act}", s.changePerson)
	r.Post("/devices/{id}/remove", s.removeDevice)
}
