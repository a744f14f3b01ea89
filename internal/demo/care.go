package demo

import (
	"context"
	"fmt"

	"patientfox/internal/app/form"
)

// cared is what is really done to a dog, and on which days before now.
var cared = []struct {
	dog  string
	task form.Typed
	from int // days before now
	done []careDone
}{
	{
		"Tansy", form.Typed{
			"task": "Ear drops", "sites": "left ear, right ear", "days": "7", "per_day": "2", "whose": "vet", "named": "the harbour vet",
			"said": "The bottle warmed in the hand first. Come back if an ear is red on the eighth day.",
		},
		3, []careDone{
			{ago: 3, amount: "4 drops"}, {ago: 3, amount: "4 drops"}, {ago: 2, amount: "4 drops"}, {ago: 2, site: "left ear", amount: "4 drops"},
			{ago: 2, site: "right ear", amount: "2 drops; she left", left: true}, {ago: 1, amount: "4 drops"}, {ago: 1, amount: "4 drops"},
			{amount: "4 drops"},
		},
	},
	{"Pilchard", form.Typed{"task": "Coat brushed", "sites": "back, tail, feathers of the legs", "every": "6"}, 119, weekly(119, 7)},
}

type careDone struct {
	ago          int // days
	site, amount string
	left         bool
}

// weekly is what is done all over every so many days, from so many days ago on; now and then a part is left over.
func weekly(from, every int) (list []careDone) {
	for ago := from; ago >= 0; ago -= every {
		if len(list)%5 != 4 {
			list = append(list, careDone{ago: ago})
			continue
		}
		list = append(list, careDone{ago: ago, site: "back"}, careDone{ago: ago, site: "tail", amount: "half of it", left: true},
			careDone{ago: ago - 1, site: "tail"}, careDone{ago: ago - 1, site: "feathers of the legs"})
	}
	return list
}

// told is what is known of dogs' health, and how many days before now it was told.
var told = []struct {
	dog  string
	ago  int
	what form.Typed
	over bool
}{
	{"Tansy", 118, form.Typed{"kind": "weight", "kg": "18.4"}, false},
	{"Tansy", 90, form.Typed{"kind": "weight", "kg": "18.1"}, false},
	{"Tansy", 62, form.Typed{"kind": "weight", "kg": "17.8"}, false},
	{"Tansy", 57, form.Typed{
		"kind": "sore", "what": "left hind paw", "said": "A cut from a mussel shell. The harbour vet: no ramp for ten days.",
	}, true},
	{"Tansy", 3, form.Typed{"kind": "seen", "said": "Both ears red. The harbour vet showed how the drops are given."}, false},
	{"Tansy", 3, form.Typed{"kind": "medicine", "what": "ear drops", "said": "The harbour vet: morning and evening, seven days."}, false},
	{"Pilchard", 9, form.Typed{
		"kind": "sore", "what": "right hip", "said": "Stiff after the ferry steps. The harbour vet: no jumping, short lies.",
	}, false},
}

// health tells what is known of dogs' health, and whom to call.
func (m *maker) health(ctx context.Context) error {
	day := func(ago int) string { return m.now.AddDate(0, 0, -ago).Format("2006-01-02") }
	for _, one := range told {
		one.what["day"] = day(one.ago)
		if one.what["kind"] == "medicine" {
			one.what["over"] = day(one.ago - 7)
		}
		if err := m.p.SaveHealth(ctx, m.ids[one.dog], one.what); err != nil {
			return err
		}
		if !one.over {
			continue
		}
		v, err := m.p.Health(ctx, m.ids[one.dog])
		if err != nil {
			return err
		}
		if err := m.p.EndHealth(ctx, m.ids[one.dog], v.Now[0].ID, form.Typed{"over": day(one.ago - 11)}); err != nil {
			return err
		}
	}
	return m.p.SaveContacts(ctx, m.ids["Tansy"], form.Typed{
		"vet": "the harbour vet, at the green door", "emergency": "Jorun Vale, at the ferry office", "photos": "yes",
		"agreed": "Maren Oduya, when Tansy came", "version": "0",
	})
}

// care makes what is really done, and logs it.
func (m *maker) care(ctx context.Context) error {
	day := func(ago int) string { return m.now.AddDate(0, 0, -ago).Format("2006-01-02") }
	for _, one := range cared {
		one.task["from"] = day(one.from)
		if err := m.p.SaveTask(ctx, m.ids[one.dog], one.task); err != nil {
			return err
		}
		v, err := m.p.Care(ctx, m.ids[one.dog], "")
		if err != nil {
			return err
		}
		task := v.Tasks[len(v.Tasks)-1].ID
		for i, d := range one.done {
			typed := form.Typed{"day": day(max(0, d.ago)), "site": d.site, "amount": d.amount, "by": m.ids["Maren Oduya"]}
			if d.left {
				typed["left"] = "on"
			}
			if err := m.p.LogDone(ctx, m.ids[one.dog], task, typed); err != nil {
				return fmt.Errorf("%s, time %d: %w", one.dog, i+1, err)
			}
		}
	}
	return nil
}
