package session_test

import (
	"testing"

	"github.com/stretchr/testify/require"

	"patientfox/core/care"
	"patientfox/core/criteria"
	"patientfox/core/decision"
	"patientfox/core/pack"
	"patientfox/core/progression"
	"patientfox/core/screen"
	"patientfox/core/session"
	"patientfox/core/trial"
	"patientfox/core/work"
	"patientfox/internal/sessiontest"
)

var careSites, careTools = []string{"neck", "ear", "paw"}, []string{"fingers", "the file"}

// carePack is a ladder over three sites with fingers, then with a file, the dog standing at the neck.
func carePack(marks map[string]care.Mark) pack.Pack {
	sites, _ := criteria.Find(criteria.Site)
	tools, _ := criteria.Find(criteria.Tool)
	sites.Items, tools.Items = careSites, careTools
	p := sessiontest.Plan(work.Handling, 1, 0)
	p.Steps, p.Rule = nil, decision.Defaults(decision.Calm)
	for tool := range careTools {
		for site := range careSites {
			c := criteria.Criteria{}.WithDimension(sites, float64(site)).WithDimension(tools, float64(tool)).With(criteria.Duration, 2)
			p.Steps = append(p.Steps, progression.Step{ID: sessiontest.StepID(len(p.Steps)), Rev: 1, Criteria: c})
		}
	}
	p.Position = progression.StartOf(p.Steps)
	p.Care = &care.Skill{Sites: careSites, Tools: careTools, Marks: marks}
	return p
}

func touch(h *session.Hand, at int64, ends work.Key) {
	h.Press(work.Main, at)
	h.Press(ends, at+2000)
}

// A site that is sore is asked at the easiest step that asks for it with the tool, on the phone and in the log.
func TestASoreSiteIsAskedAtItsEasiestTouch(t *testing.T) {
	p := carePack(map[string]care.Mark{"ear": care.Sore})
	harder := p.Steps[1]
	harder.ID, harder.Criteria = sessiontest.StepID(9), harder.Criteria.With(criteria.Duration, 8)
	p.Steps = append(p.Steps, harder)
	p.Position = progression.Position{Reached: harder.ID, Today: harder.ID}
	h := sessiontest.Begin(t, p, session.Choice{})
	require.Equal(t, sessiontest.StepID(1), h.Run.Today().ID, "the dog stands at eight seconds there")
	touch(h, 1000, work.Main)
	h.Run.Arm(session.Armed{Site: "neck"})
	touch(h, 12000, work.Main)
	trials := sessiontest.Trials(h)
	require.Equal(t, []any{sessiontest.StepID(1), true}, []any{trials[0].Step, trials[0].Eased})
	require.Equal(t, []any{sessiontest.StepID(0), false}, []any{trials[1].Step, trials[1].Eased})

	delete(p.Care.Marks, "ear")
	sound := sessiontest.Begin(t, p, session.Choice{})
	require.Equal(t, harder.ID, sound.Run.Today().ID)
}

// In a visit each touch is of the step that asks for its site and tool: the rule of the step where the dog stands reads its own alone.
func TestATouchCountsForTheStepOfItsSiteAndTool(t *testing.T) {
	h := sessiontest.Begin(t, carePack(nil), session.Choice{})
	h.Press(work.RoundKey, 500)
	for i, key := range []work.Key{work.Main, work.MetKey, work.LateKey} {
		touch(h, int64(1000+9000*i), key)
	}
	h.Press(work.ToolKey, 29000)
	h.Run.Arm(session.Armed{Site: "paw", Tool: h.Run.Armed().Tool})
	touch(h, 30000, work.PulledKey)
	var steps []string
	for _, one := range sessiontest.Trials(h) {
		require.True(t, one.Cell)
		steps = append(steps, one.Site+" "+one.Tool+" "+one.Step[len(one.Step)-1:])
	}
	require.Equal(t, []string{"neck fingers 0", "ear fingers 1", "paw fingers 2", "paw the file 5"}, steps)
	require.Len(t, h.Run.TrialsAt(h.Run.Block(), sessiontest.StepID(0), ""), 1)
	place, _ := h.Run.Position()
	require.Equal(t, progression.StartOf(carePack(nil).Steps), place, "a touch moves no level")
}

// A site of the list for which the ladder has no step with that tool is in the record, and in no rate.
func TestATouchThatNoStepAsksForIsInNoRate(t *testing.T) {
	p := carePack(nil)
	p.Steps = p.Steps[:4] // the file at the neck alone
	h := sessiontest.Begin(t, p, session.Choice{})
	h.Run.Arm(session.Armed{Site: "paw", Tool: "the file"})
	touch(h, 1000, work.MetKey)
	one := sessiontest.Trials(h)[0]
	require.Equal(t, trial.Touch{Site: "paw", Tool: "the file", Cell: true}, one.Touch)
	require.False(t, one.Counted())
}

func TestAVisitGoesRoundAndEndsAtASiteForToday(t *testing.T) {
	h := sessiontest.Begin(t, carePack(map[string]care.Mark{"ear": care.Sore}), session.Choice{})
	h.Press(work.RoundKey, 500)
	require.Equal(t, "neck", h.Run.Site())
	touch(h, 1000, work.Main)
	require.Equal(t, "ear", h.Run.Site(), "a sore one in the middle")
	touch(h, 10000, work.PulledKey)
	require.True(t, h.Run.PulledAt("ear"))
	require.Equal(t, "paw", h.Run.Site())
	h.Run.Arm(session.Armed{Site: "ear", Round: true})
	require.Equal(t, session.SoreSite, h.Run.Refused().Code)
	require.Equal(t, "paw", h.Run.Site(), "it is asked first")
	h.Run.Arm(session.Armed{Site: "ear", Round: true})
	require.Nil(t, h.Run.Refused())
	touch(h, 20000, work.PulledKey)
	h.Run.Arm(session.Armed{Site: "ear", Round: true})
	require.Equal(t, session.SiteOver, h.Run.Refused().Code, "twice in a visit")
	h.Press(work.UndoKey, 24000)
	h.Press(work.UndoKey, 24500)
	h.Run.Arm(session.Armed{Site: "ear", Round: true})
	require.NotEqual(t, session.SiteOver, h.Run.Refused().Code, "a press taken back ends nothing")
}

func TestASiteThatIsNeverTouchedIsNotChosen(t *testing.T) {
	h := sessiontest.Begin(t, carePack(map[string]care.Mark{"ear": care.Never}), session.Choice{})
	for range 2 {
		h.Run.Arm(session.Armed{Site: "ear"})
		require.Equal(t, session.NeverSite, h.Run.Refused().Code)
		require.Equal(t, "neck", h.Run.Site())
	}
	h.Press(work.SiteKey, 500)
	require.Equal(t, "paw", h.Run.Site(), "a remote goes past it")
	h.Press(work.RoundKey, 600)
	touch(h, 1000, work.Main)
	touch(h, 10000, work.Main)
	_, _, more := h.Run.NextSite()
	require.False(t, more)
	h.Handler = "jorun"
	drafts, problem := h.Run.HandOver("jorun")
	require.Nil(t, problem)
	h.Do(20000, drafts)
	site, _, more := h.Run.NextSite()
	require.Equal(t, "neck", site, "who takes over goes round too")
	require.True(t, more)
}

// Somebody beside the main handler takes no tool into the hand that the main handler has not come to.
func TestNobodyTakesAToolBeforeTheMainHandler(t *testing.T) {
	p := carePack(nil)
	p.Main, p.Founder = "maren", "maren"
	p.People = []pack.Option{{ID: "maren"}, {ID: "jorun"}}
	h := sessiontest.Begin(t, p, session.Choice{Handler: "jorun"})
	h.Run.Arm(session.Armed{Site: "paw"})
	require.Nil(t, h.Run.Refused(), "sites have no order among each other")
	h.Press(work.ToolKey, 500)
	require.Equal(t, session.AboveMain, h.Run.Refused().Code)
	require.Equal(t, "fingers", h.Run.Tool())
	touch(h, 1000, work.Main)
	require.Nil(t, h.Run.Refused(), "said once")
}

// What is really done belongs to one touch, to a claw that the paw has, and to hands that were shown it.
func TestWhatIsReallyDoneIsOneClawByHandsThatWereShownIt(t *testing.T) {
	for _, c := range []struct {
		main, role string
		shown      []string
		may        bool
	}{
		{"maren", "", nil, true}, {"jorun", "family", nil, false}, {"jorun", "family", []string{pack.ReallyDone}, true},
		{"jorun", "trainer", nil, true},
	} {
		p := carePack(nil)
		p.Main, p.Founder, p.Shown = c.main, c.main, map[string][]string{"maren": c.shown}
		p.People = []pack.Option{{ID: "maren", Role: c.role}, {ID: "jorun"}}
		h := sessiontest.Begin(t, p, session.Choice{Handler: "maren"})
		h.Run.Arm(session.Armed{Site: "paw"})
		h.Press(work.DoneKey, 500)
		require.Equal(t, c.may, h.Run.Armed().Done)
		if !c.may {
			require.Equal(t, session.DoneNotShown, h.Run.Refused().Code)
			touch(h, 1000, work.Main)
			require.False(t, sessiontest.Trials(h)[0].Done, "a rehearsal")
			continue
		}
		a := h.Run.Armed()
		for _, claw := range []string{"claw 9", "claw 2"} {
			a.Part = claw
			h.Run.Arm(a)
		}
		require.Equal(t, "claw 2", h.Run.Armed().Part)
		touch(h, 1000, work.Main)
		touch(h, 9000, work.Main)
		one, two := sessiontest.Trials(h)[0], sessiontest.Trials(h)[1]
		require.Equal(t, trial.Touch{Site: "paw", Tool: "fingers", Done: true, Part: "claw 2", Cell: true}, one.Touch)
		require.Equal(t, trial.Touch{Site: "paw", Tool: "fingers", Cell: true}, two.Touch)
		h.Press(work.DoneKey, 18000)
		var labels []string
		for _, one := range screen.Of(h.Run).View(18500).Body.Parts {
			labels = append(labels, one.Label)
		}
		require.Equal(t, []string{"Claw 1", "Claw 2 ✓", "Claw 3", "Claw 4", "Dew claw"}, labels)
	}
	h := sessiontest.Begin(t, carePack(nil), session.Choice{})
	h.Press(work.DoneKey, 500)
	a := h.Run.Armed()
	a.Part = "claw 2"
	h.Run.Arm(a)
	require.Equal(t, session.NoSuchPart, h.Run.Refused().Code, "a neck has no claws")
}

// Sites are drawn with their level, this session's touches included, and the proposed one is ringed.
func TestTheOutlineShowsHowTheDogTakesEachSite(t *testing.T) {
	p := carePack(map[string]care.Mark{"paw": care.Sore})
	for i := range 3 {
		one := care.Touch{Site: "neck", Tool: "fingers", Exposure: care.Exposure{Day: i, State: 2}}
		p.Care.Touches = map[string][]care.Touch{"maren": append(p.Care.Touches["maren"], one)}
	}
	h := sessiontest.Begin(t, p, session.Choice{Handler: "maren"})
	h.Press(work.RoundKey, 500)
	touch(h, 1000, work.LateKey) // at the ear: it was not touched yet
	body := screen.Of(h.Run).View(9000).Body
	require.Equal(t, []screen.SiteView{
		{Name: "neck", Shape: "state2", Says: "neck, wary"}, {Name: "ear", Shape: "state2", Says: "ear, wary"},
		{Name: "paw", At: true, Next: true, Mark: care.Sore, Says: "paw, sore, next"},
	}, body.Sites)
	require.Equal(t, "fingers", body.Tool)
}

// With a tool in the hand every other decoy shows it: it is paid, belongs to no trial, and says which. The bare hand has nothing to show.
func TestADecoyCanShowTheTool(t *testing.T) {
	for tool, shows := range map[string]bool{"fingers": false, "the file": true} {
		p := carePack(nil)
		p.V, p.DecoyIn = pack.Version, 2
		p.Position = progression.Position{Reached: sessiontest.StepID(5), Today: sessiontest.StepID(5)}
		h := sessiontest.Begin(t, p, session.Choice{Pieces: "90"})
		h.Run.Arm(session.Armed{Site: "paw", Tool: tool})
		at, shown := int64(1000), 0
		for range 24 {
			ahead := h.Run.MovesAhead()
			require.Equal(t, h.Run.NextMove(), ahead[0])
			view := screen.Of(h.Run).View(at)
			switch ahead[0] {
			case session.Real:
				touch(h, at, work.MetKey)
			case session.Decoy:
				require.Equal(t, "Decoy", view.Main.Label)
				h.Press(work.Main, at)
				require.Empty(t, h.Run.Session().Decoys[len(h.Run.Session().Decoys)-1].Tool)
			case session.ToolShow:
				shown++
				require.Equal(t, "Show the tool", view.Main.Label)
				pays := len(h.Run.Session().Pays)
				h.Press(work.Main, at)
				require.Equal(t, tool, h.Run.Session().Decoys[len(h.Run.Session().Decoys)-1].Tool)
				require.Len(t, h.Run.Session().Pays, pays+1)
				require.True(t, h.Run.Session().Pays[pays].Apart)
				h.Press(work.ReactsTo+"looks", at+1000)
			}
			at += 9000
		}
		require.Equal(t, shows, shown > 0, tool)
		require.Equal(t, map[bool]int{true: len(h.Run.Session().Decoys) / 2, false: 0}[shows], shown, "every other one")
	}
}
