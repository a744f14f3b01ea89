package dogs

import (
	"math"
	"strings"

	"patientfox/internal/app"
)

// SkillNode is one skill on the map of prerequisites.
type SkillNode struct {
	Name, Plan string // Plan is "" where the dog has none
	Part       float64
	Finished   bool
}

// SkillNeed says that one skill needs another.
type SkillNeed struct {
	Skill, Needs, Text string
	Met, Waived        bool
}

// needsMap lists a dog's skills and their prerequisites; none where nothing needs anything.
func needsMap(plans []app.Plan) (nodes []SkillNode, needs []SkillNeed) {
	at := map[string]int{}
	add := func(n SkillNode) {
		key := strings.ToLower(n.Name)
		if i, known := at[key]; known {
			if nodes[i].Plan != "" || n.Plan == "" {
				return
			}
			nodes[i] = n
			return
		}
		at[key] = len(nodes)
		nodes = append(nodes, n)
	}
	for _, l := range plans {
		if l.ID != l.Main {
			continue
		}
		part := float64(l.Reached()) / math.Max(1, float64(len(l.Steps)-1))
		add(SkillNode{Name: l.SkillName, Plan: l.ID, Part: part, Finished: l.Finished()})
		views, _ := app.NeedsOf(l, plans)
		for i, n := range l.Body.Needs {
			add(SkillNode{Name: n.Skill})
			needs = append(needs, SkillNeed{Skill: l.SkillName, Needs: n.Skill, Text: views[i].Text, Met: views[i].Met, Waived: n.Waived != ""})
		}
	}
	return nodes, needs
}
