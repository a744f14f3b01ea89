// Command shots takes one picture of each main view of the demo practice, served at -base, into
// -to. `make shots` starts the server and calls it.
package main

import (
	"flag"
	"fmt"
	"log"
	"net/http"
	"path/filepath"
	"time"

	"patientfox/e2e/browser"
)

func main() {
	base := flag.String("base", "http://127.0.0.1:8420", "address of the demo practice")
	to := flag.String("to", "docs/screenshots", "folder for the pictures")
	flag.Parse()
	for try := 0; ; try++ {
		answer, err := http.Get(*base + "/healthz")
		if err == nil {
			answer.Body.Close()
			break
		}
		if try == 300 {
			log.Fatal("the demo practice does not answer: ", err)
		}
		time.Sleep(100 * time.Millisecond)
	}
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
		return browser.Get[string](p, fmt.Sprintf(`[...document.querySelectorAll(%q)].find((a) => a.textContent.includes(%q)).getAttribute("href")`, css, text))
	}

	p.Go("/")
	shot("today", false)
	plan := link("main a", "Tansy · wait at the ramp")
	p.Go("/dogs")
	shot("dogs", false)
	dog := link("main a", "Tansy")
	p.Go(dog)
	shot("dog", false)
	p.Go(plan)
	shot("plan", false)
	session := link("aside ul a", " Nov")
	p.Go(dog + "/rewards")
	shot("rewards", false)
	p.Go("/")
	p.Go(link("main ol a", "Tansy"))
	shot("sheet", false)
	p.Go("/week")
	shot("week", false)
	p.Go("/library")
	shot("library", false)
	p.Go("/library/come-when-called")
	shot("template", false)
	p.Go(dog + "/plans/new?from=wait-at-an-edge")
	p.Wait(`document.querySelectorAll("#preview li").length > 2`)
	p.Eval(`document.getElementById("f-leg1_make").closest("section").scrollIntoView()`)
	shot("newplan", false)
	p.Go(session)
	shot("review", false)

	p.Go(plan + "/progress")
	shot("progress", false)
	p.Go("/")
	p.Go(link("main a", "Pilchard · down on the slipway") + "/evidence")
	shot("evidence", false)
	p.Go(plan + "/outlook")
	p.Wait(`document.querySelector("#compare form")`)
	p.Click("#compare form button")
	p.Wait(`document.querySelectorAll("#compare tbody tr").length === 5`)
	p.Eval(`document.getElementById("compare").scrollIntoView()`)
	shot("outlook", false)

	p.Resize(browser.Phone)
	p.Go("/")
	shot("today-phone", false)
	p.Go(dog + "/rewards")
	p.Follow("#test form .btn")
	for range 4 {
		p.Follow("button.choice")
	}
	shot("preference", false)
	run(p, plan, shot)
}

// run works a session up to a verdict, and pictures it on the way.
func run(p *browser.Page, plan string, shot func(string, bool)) {
	p.Go("/run?plan=" + filepath.Base(plan))
	p.Wait(`!document.getElementById("setup").hidden`)
	p.Fill("#pieces", "40")
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
