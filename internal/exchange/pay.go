package exchange

import (
	"patientfox/core/library"
	"patientfox/core/reinforce"
)

// pay reads how a plan is paid. Version 1 of the format said it in words.
func (r *templateReader) pay(n *node, b *library.Body) {
	o := r.object(n, "“reinforcement”")
	band, pieces := reinforce.Band{Lo: 4, Hi: 8}, 1
	if o.nodes["rate"] != nil {
		band = r.band(o)
	}
	if o.nodes["pieces"] != nil {
		pieces = r.whole(o, "pieces")
	}
	if r.version == 1 {
		b.Pay = library.PayInWords(r.text(o, "value"), r.text(o, "schedule"), r.text(o, "where"), r.text(o, "how"), band, pieces)
	} else {
		b.Pay = reinforce.Strategy{
			Tier: r.whole(o, "tier"), Band: band, Pieces: pieces, Paces: r.whole(o, "paces"), Where: r.text(o, "where"),
			Schedule: reinforce.Schedule{
				Way: reinforce.Way(r.text(o, "schedule")), K: r.whole(o, "k"), Share: r.number(o, "share"), Thin: r.yes(o, "thin"),
			},
			Purpose: reinforce.Purpose(r.text(o, "purpose")), Delivery: reinforce.Delivery(r.text(o, "delivery")), Jackpot: r.whole(o, "jackpot"),
			LifeReward: r.number(o, "own"), LifeRewardIs: r.text(o, "own_is"), Release: r.yes(o, "release"), Extra: r.yes(o, "extra"),
		}
		b.Lifeline, b.Arousal = r.yes(o, "lifeline"), r.text(o, "arousal")
	}
	o.read["pieces"], o.read["rate"] = true, true
	r.rest(o, "“reinforcement”")
}

func (r *templateReader) band(o *object) reinforce.Band {
	var rate []float64
	for _, n := range r.list(o, "rate") {
		x, ok := n.value.(float64)
		if !ok {
			r.add(n.line, "A rate is two numbers, pays a minute from and to: [4, 8].")
		}
		rate = append(rate, x)
	}
	if len(rate) != 2 {
		r.add(o.lines["rate"], "A rate is two numbers, pays a minute from and to: [4, 8].")
		return reinforce.Band{}
	}
	return reinforce.Band{Lo: rate[0], Hi: rate[1]}
}

// payRow is how a plan is paid, as a template file says it; what is not said is left out.
func payRow(b library.Body) map[string]any {
	s := b.Pay
	row := map[string]any{"rate": []float64{s.Band.Lo, s.Band.Hi}, "pieces": s.Piece()}
	texts := map[string]string{
		"schedule": string(s.Schedule.Way), "where": s.Where, "purpose": string(s.Purpose), "delivery": string(s.Delivery),
		"own_is": s.LifeRewardIs, "arousal": b.Arousal,
	}
	for key, text := range texts {
		if text != "" {
			row[key] = text
		}
	}
	for key, n := range map[string]int{"tier": s.Tier, "paces": s.Paces, "k": s.Schedule.K, "jackpot": s.Jackpot} {
		if n != 0 {
			row[key] = n
		}
	}
	for key, x := range map[string]float64{"share": s.Schedule.Share, "own": s.LifeReward} {
		if x != 0 {
			row[key] = x
		}
	}
	for key, yes := range map[string]bool{"thin": s.Schedule.Thin, "release": s.Release, "extra": s.Extra, "lifeline": b.Lifeline} {
		if yes {
			row[key] = yes
		}
	}
	return row
}
