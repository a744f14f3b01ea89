// Command shots takes one picture of each main view of the demo practice, served at -base, into
// -to. `make shots` starts the server and calls it.
package main

import (
	"database/sql"
	"encoding/base64"
	"flag"
	"fmt"
	"log"
	"net/http"
	"os"
	"path/filepath"
	"strings"
	"time"

	_ "modernc.org/sqlite" // the driver

	"patientfox/e2e/browser"
)

func main() {
	base := flag.String("base", "http://127.0.0.1:8420", "address of the demo practice")
	to := flag.String("to", "docs/screenshots", "folder for the pictures")
	data := flag.String("data", "", "folder of the demo practice, in which a session is set aside for its picture")
	flag.Parse()
	waits(*base)
	b, err := browser.Start()
	if err != nil {
		log.Fatal(err)
	}
	defer b.Close()
	p := b.Page(*base, browser.Laptop, log.Fatalf)
	shot := func(name string, whole bool) {
		p.Shot(filepath.Join(*to, name+".png"), whole)
		fmt.Println(name)
	}
	link := func(css, text string) string {
		return browser.Get[string](p,
			fmt.Sprintf(`[...document.querySelectorAll(%q)].find((a) => a.textContent.includes(%q)).getAttribute("href")`, css, text))
	}

	p.Go("/")
	shot("today", false)
	p.Go("/dogs")
	dog, tires := link("main a", "Tansy"), link("main a", "Pilchard")
	p.Go(dog)
	shot("dog", false)
	plan := link("main a", "Wait at the ramp")
	p.Go(plan)
	shot("plan", false)
	session := link("aside ul a", " Nov")
	page := func(name, path string) { p.Go(path); shot(name, false) }
	page("table", plan+"/table")
	larder(b, p, dog, tires, *to)
	p.Go("/")
	p.Go(link("main ol a", "Tansy"))
	shot("sheet", false)
	weeks(b, p, *to)
	page("library", "/library")
	p.Go(dog + "/plans/new?from=wait-at-an-edge")
	p.Wait(`document.querySelectorAll("#preview li").length > 2`)
	p.Eval(`document.getElementById("f-leg1_make").closest("section").scrollIntoView()`)
	shot("newplan", false)
	p.Go(session)
	shot("review", false)

	p.Go(plan + "/progress")
	shot("progress", false)
	p.Go(tires)
	p.Go(link("main a", "Down on the slipway") + "/evidence")
	shot("evidence", false)
	ahead(b, p, tires, plan, *to)

	p.Resize(browser.Phone)
	var phone []string
	small := func() {
		file := filepath.Join(*to, "phone.png")
		p.Shot(file, false)
		phone = append(phone, inline(file))
	}
	p.Go("/")
	small()
	p.Go(dog + "/rewards")
	p.Follow("#test form .btn")
	for range 4 {
		p.Follow("button.choice")
	}
	small()
	p.Go(tires + "/homework")
	p.Follow(`button[formaction$="/link"]`)
	p.Go(browser.Get[string](p, `new URL(document.querySelector(".linked a").href).pathname`))
	p.Click(`[data-round]:nth-of-type(1) [data-met="4"]`)
	p.Eval(`document.querySelector("[data-skill]").scrollIntoView()`)
	small()
	p.Go("/")
	p.Go(link("main a", "Evenings without fuss"))
	meeting(p)
	small()
	beside(b, phone, 400, 864, 4, filepath.Join(*to, "phone.png"))
	run(p, plan, shot)
	kinds(b, *base, *to)
	safe(b, *base, *data, *to)
}

// larder pictures what a dog works for, its care and its health, how another one's owner takes it over, the owner's homework, what came
// back of it, what they are told of a week, and the post.
func larder(b *browser.Browser, p *browser.Page, dog, other, to string) {
	p.Resize(browser.Size{W: 1000, H: 900})
	var shots []string
	for _, page := range []string{
		dog + "/rewards", dog + "/care", dog + "/health", other + "/takeover", other + "/homework?#sheet", other + "/homework",
		other + "/recap", "/post",
	} {
		file := filepath.Join(to, "rewards.png")
		p.Go(page)
		p.Wait(`[...document.querySelectorAll('[x-data="alone"]')].every((one) => one.textContent.includes("session"))`)
		p.Shot(file, false)
		shots = append(shots, inline(file))
	}
	beside(b, shots, 800, 720, 2, filepath.Join(to, "rewards.png"))
	p.Resize(browser.Laptop)
}

// weeks pictures a week, a class against its programme, the programme, and a day with others: the team, a hand-over sheet, the journal,
// one's own handling and the people.
func weeks(b *browser.Browser, p *browser.Page, to string) {
	p.Resize(browser.Size{W: 1280, H: 900})
	var shots []string
	take := func() {
		file := filepath.Join(to, "week.png")
		p.Shot(file, false)
		shots = append(shots, inline(file))
	}
	p.Go("/week")
	take()
	p.Go("/classes")
	p.Follow(".rows a")
	take()
	p.Go("/programmes/calm-at-home")
	take()
	p.Go("/team")
	take()
	p.Follow(`a[href^="/team/handover"]`)
	take()
	for _, path := range []string{"/journal?area=plans", "/me/handling", "/settings#people"} {
		p.Go(path)
		take()
	}
	beside(b, shots, 800, 563, 2, filepath.Join(to, "week.png"))
	p.Resize(browser.Laptop)
	fmt.Println("week")
}

// ahead pictures what makes a skill harder and easier, the same dog under each rule, and what a dog's sessions and those of all dogs show
// together.
func ahead(b *browser.Browser, p *browser.Page, dog, plan, to string) {
	p.Resize(browser.Size{W: 900, H: 900})
	var shots []string
	take := func() {
		file := filepath.Join(to, "ahead.png")
		p.Shot(file, false)
		shots = append(shots, inline(file))
	}
	p.Go(plan + "/load")
	p.Wait(`document.querySelector(".contours")`)
	take()
	p.Go(plan + "/outlook")
	p.Wait(`document.querySelector("#compare form")`)
	p.Click("#compare form button")
	p.Wait(`document.querySelectorAll("#compare tbody tr").length === 5`)
	p.Eval(`document.getElementById("compare").scrollIntoView()`)
	take()
	for _, page := range []string{dog + "/learning", "/learning"} {
		for p.Go(page); browser.Get[bool](p, `!!document.querySelector("p.text-lg[role=status], section p[role=status]")`); p.Go(page) {
			time.Sleep(200 * time.Millisecond) // it is worked out in the background
		}
		take()
	}
	beside(b, shots, 720, 720, 2, filepath.Join(to, "ahead.png"))
}

// safe pictures the copies, and a session that is set aside, side by side.
func safe(b *browser.Browser, base, data, to string) {
	folder, err := os.MkdirTemp("", "patientfox-shots")
	if err != nil {
		log.Fatal(err)
	}
	defer os.RemoveAll(folder)
	files, err := filepath.Glob(filepath.Join(data, "demo", "*.db"))
	if err != nil || len(files) != 1 {
		log.Fatal("which database? ", files, err)
	}
	db, err := sql.Open("sqlite", files[0])
	if err != nil {
		log.Fatal(err)
	}
	defer db.Close()
	session := ""
	if err := db.QueryRow(`SELECT id FROM sessions WHERE deleted IS NULL AND ended IS NOT NULL AND opened < 1795446000000
		ORDER BY opened DESC LIMIT 1 OFFSET 4`).Scan(&session); err != nil {
		log.Fatal(err)
	}
	if _, err := db.Exec(`UPDATE sessions SET unread = 'log' WHERE id = ?`, session); err != nil {
		log.Fatal(err)
	}
	p := b.Page(base, browser.Size{W: 800, H: 800}, log.Fatalf)
	defer p.Close()
	p.Go("/copies")
	p.Follow(`main form button`)
	p.Wait(`document.querySelector("tbody tr")`)
	var shots []string
	for i, page := range []string{"/copies", "/sessions/" + session + "/log"} {
		p.Go(page)
		file := filepath.Join(folder, fmt.Sprintf("%d.png", i))
		p.Shot(file, false)
		shots = append(shots, inline(file))
	}
	beside(b, shots, 640, 640, 2, filepath.Join(to, "safe.png"))
}

// inline is a picture as a data address.
func inline(file string) string {
	png, err := os.ReadFile(file)
	if err != nil {
		log.Fatal(err)
	}
	return "data:image/png;base64," + base64.StdEncoding.EncodeToString(png)
}

// beside puts pictures into one, in columns of a width and a height.
func beside(b *browser.Browser, shots []string, width, height int64, columns int, file string) {
	rows := (int64(len(shots)) + int64(columns) - 1) / int64(columns)
	p := b.Page("about:blank", browser.Size{W: int64(columns) * width, H: rows * height}, log.Fatalf)
	defer p.Close()
	p.Go("")
	p.Eval(fmt.Sprintf(`document.body.style = "margin:0;background:#7b8f88;display:grid;grid-template-columns:repeat(%d,%dpx);gap:0"`,
		columns, width))
	for _, shot := range shots {
		p.Eval(fmt.Sprintf(`const i = new Image(%d); i.src = "%s"; i.style = "margin:5px"; document.body.append(i)`, width-10, shot))
	}
	p.Wait(`[...document.images].every((i) => i.complete && i.naturalWidth)`)
	p.Shot(file, false)
	fmt.Println(strings.TrimSuffix(filepath.Base(file), ".png"))
}

// worked is how a kind of work is brought to what is pictured: the words of its link on Today, and what is pressed.
var worked = []struct{ dog, skill, keys string }{
	{"Pilchard", "Along the quay on a loose leash, dog on the left", "main main main"}, {"Brine", "Four feet on the weighing plate", "main"},
	{"Brine", "Check in on the quay", "main main"}, {"Quill", "The foghorn", "main main"},
	{"Tansy", "Ear drops, left ear", ""}, {"Tansy", "Steady for the mooring line", "main"},
	{"Brine", "Nose to the yellow bollard", "main"}, {"Quill", "The foghorn", "main helped stay recover"},
}

// kinds puts the Run screens of every kind of work into one picture.
func kinds(b *browser.Browser, base, to string) {
	var shots []string
	folder, err := os.MkdirTemp("", "patientfox-shots")
	if err != nil {
		log.Fatal(err)
	}
	defer os.RemoveAll(folder)
	for i, w := range worked {
		p := b.Page(base, browser.Phone, log.Fatalf)
		p.Go("/")
		p.Wait(`document.documentElement.dataset.carried`)
		p.Go("/run")
		p.Wait(`!document.getElementById("carried").hidden`)
		p.Follow(fmt.Sprintf(`#carried-plans a[aria-label$="%s · %s"]`, w.dog, w.skill))
		p.Wait(`!document.getElementById("setup").hidden`)
		p.Fill("#pieces", "30")
		p.Click("#begin")
		p.Wait(`patientfox.view && !document.getElementById("board").hidden`)
		for _, key := range strings.Fields(w.keys) {
			p.Wait(`!patientfox.view.rests`)
			logged := browser.Get[int](p, "patientfox.logged")
			p.Click(`[data-key="` + key + `"]`)
			p.Wait(fmt.Sprintf("patientfox.logged > %d", logged))
		}
		p.Wait(`!patientfox.view.rests`)
		file := filepath.Join(folder, fmt.Sprintf("%d.png", i))
		p.Shot(file, false)
		p.Close()
		shots = append(shots, inline(file))
	}
	beside(b, shots, 300, 660, 4, filepath.Join(to, "run-kinds.png"))
}

// waits until the demo practice answers.
func waits(base string) {
	for try := 0; ; try++ {
		answer, err := http.Get(base + "/healthz")
		if err == nil {
			answer.Body.Close()
			return
		}
		if try == 300 {
			log.Fatal("the demo practice does not answer: ", err)
		}
		time.Sleep(100 * time.Millisecond)
	}
}

// meeting runs a meeting of a class, up to a look at each dog and a sign.
func meeting(p *browser.Page) {
	p.Follow(`a[href^="/run/class"]`)
	p.Click("#mine-open")
	p.Wait(`document.querySelectorAll(".tile-step").length > 1`)
	for i, met := range []int{5, 3} {
		p.Click(fmt.Sprintf(`[data-dog]:nth-child(%d)`, i+1))
		p.Click(fmt.Sprintf(`[data-met="%d"]`, met))
		p.Wait(fmt.Sprintf(`document.getElementById("dog-says").innerText.includes("%d of 5")`, met))
	}
	p.Click(`[data-sign="too_close"]`)
	p.Wait(`document.querySelector("[data-sign=too_close]").getAttribute("aria-pressed") === "true"`)
}

// run works a session up to a verdict, and pictures it on the way.
func run(p *browser.Page, plan string, shot func(string, bool)) {
	p.Go("/run?plan=" + filepath.Base(plan))
	p.Wait(`!document.getElementById("setup").hidden`)
	p.Fill("#pieces", "40")
	p.Eval(`document.activeElement.blur(); scrollTo(0, 0)`)
	shot("run-setup", false)
	p.Click("#begin")
	p.Wait(`!document.getElementById("board").hidden`)
	press := func() {
		p.Wait(`!patientfox.view.rests`)
		p.Click(`[data-key="main"]`)
	}
	for range 4 {
		press()
		p.Wait(`patientfox.view.dial.full`)
		press()
		p.Wait(`patientfox.view.phase === "idle" || patientfox.view.phase === "deciding"`)
	}
	press()
	p.Wait(`patientfox.view.dial.part > 0.7`)
	shot("run", false)
	p.Wait(`patientfox.view.dial.full`)
	press()
	p.Wait(`patientfox.view.phase !== "trying"`)
	shot("run-verdict", false)
}
