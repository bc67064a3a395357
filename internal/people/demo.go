package people

import (
	"context"
	"errors"
	"fmt"

	"grund/internal/access"
	"grund/internal/store"
)

// A DemoAccount is one of the made-up people of the demo.
type DemoAccount struct {
	Name, UserName string
	Role           access.Role
}

// demoPeople are the instructor and some students of the Kelpwick harbour school.
var demoPeople = []DemoAccount{
	{"Ines Maro", "ines.maro", access.Instructor},
	{"Odo Lind", "odo.lind", access.Member},
	{"Tamsin Reed", "tamsin.reed", access.Member},
	{"Jory Vane", "jory.vane", access.Member},
	{"Wen Halloway", "wen.halloway", access.Member},
}

// LoadDemo adds the demo's people where they are not there yet, each with the demo of that person. They have no
// password: they sign in by a click, on a server of the demo.
func LoadDemo(ctx context.Context, st *store.Store, demo access.Person) error {
	for _, p := range demoPeople {
		_, _, err := st.ByUserName(ctx, p.UserName)
		if err == nil {
			continue
		}
		if !errors.Is(err, store.ErrNotFound) {
			return err
		}
		a, err := st.AddDemoPerson(ctx, p.UserName, p.Name, p.Role)
		if err != nil {
			return fmt.Errorf("adding %s: %w", p.Name, err)
		}
		if err := st.CopyDemo(ctx, demo, a.Person); err != nil {
			return err
		}
	}
	return nil
}
