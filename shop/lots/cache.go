package lots

import (
	"fmt"
	"sync"

	"ashshelf/archive"
	"ashshelf/shop/document"
	"ashshelf/soap/lot"
	"ashshelf/store"
)

// lotCache remembers lots as they were read. The shelf, the racks and the month ask
// for the same few hundred again and again, and reading them from their records
// costs a hundred times what looking at them does. A lot's record only grows, and
// lot_state says how far: what is remembered is good as long as the newest entry
// is the same. Whoever gets a lot may look at it but not change it.
type lotCache struct {
	mu     sync.Mutex
	frozen map[string]lot.Frozen       // what lots were made from, by identity; that never changes
	lots   map[string]*lot.Lot         // without bench, and without what other lots say of them
	plans  map[string]archive.KeptPlan // as they are written, by identity
}

// plan reads what a plan was kept as.
func (m *lotCache) plan(p store.Plan) (archive.KeptPlan, error) {
	m.mu.Lock()
	defer m.mu.Unlock()
	if have, ok := m.plans[p.OID]; ok {
		return have, nil
	}
	written, err := archive.Read[archive.KeptPlan](p.Body)
	if err != nil {
		return written, fmt.Errorf("plan %s: %w", p.OID, err)
	}
	putBounded(&m.plans, p.OID, written)
	return written, nil
}

// mostKnown bounds what is remembered: more than ever stand on the racks.
const mostKnown = 800

// putBounded remembers one more, forgetting all when there are too many.
func putBounded[T any](known *map[string]T, oid string, one T) {
	if *known == nil || len(*known) >= mostKnown {
		*known = map[string]T{}
	}
	(*known)[oid] = one
}

// decode reads what a lot was made from, and what it was rescaled to.
func (m *lotCache) decode(l *store.Lot) (*lot.Lot, error) {
	for i, body := range l.RescaleJSON {
		r, err := archive.Read[archive.Rescale](body)
		if err != nil {
			return nil, fmt.Errorf("rescale of lot %s: %w", l.Code, err)
		}
		l.Rescales[i].Sheet, l.Rescales[i].Pot = document.ReadSheet(r.Sheet), document.ReadPot(r.Pot)
	}
	m.mu.Lock()
	defer m.mu.Unlock()
	if have, ok := m.frozen[l.OID]; ok {
		l.Frozen = have
		return &l.Lot, nil
	}
	frozen, err := document.Decode("lot "+l.Code, document.ReadFrozen, l.FrozenJSON)
	if err != nil {
		return nil, err
	}
	l.Frozen = frozen
	putBounded(&m.frozen, l.OID, frozen)
	return &l.Lot, nil
}

// lookup returns copies of the lots that are known, nil for the others.
func (m *lotCache) lookup(heads []store.LotHead) []*lot.Lot {
	m.mu.Lock()
	defer m.mu.Unlock()
	out := make([]*lot.Lot, len(heads))
	for i, h := range heads {
		if l, ok := m.lots[h.OID]; ok && l.LastEntry == h.LastEntry {
			one := *l
			out[i] = &one
		}
	}
	return out
}

// clear drops what is remembered of lots, after something changed that is not an entry
// of theirs.
func (m *lotCache) clear() {
	m.mu.Lock()
	defer m.mu.Unlock()
	m.lots = nil
}

func (m *lotCache) put(l *lot.Lot) {
	l.RememberDrying()
	one := *l
	m.mu.Lock()
	defer m.mu.Unlock()
	putBounded(&m.lots, l.OID, &one)
}

// ForgetLots drops what is remembered of lots, after something changed that is not an
// entry of theirs.
func (r *Reader) ForgetLots() { r.memory.clear() }

// PlanBody is a plan as it was kept, in the words of what is written.
func (r *Reader) PlanBody(p store.Plan) (archive.KeptPlan, error) { return r.memory.plan(p) }
