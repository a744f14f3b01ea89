package store

import "context"

// Letter is one letter of the simulated post.
type Letter struct {
	ID       string `db:"id"`
	Box      string `db:"box"`
	Mail     string `db:"mail"`    // its Message-ID
	Answers  string `db:"answers"` // the id of the letter that it answers, "" for none
	Dog      string `db:"dog"`
	Person   string `db:"person"` // to or from whom, "" for the whole household
	Subject  string `db:"subject"`
	Text     string `db:"text"`
	Raw      []byte `db:"raw"`      // RFC 5322; not in a list
	Homework bool   `db:"homework"` // what answers it may be lines of homework
	Made     int64  `db:"made"`     // UTC ms
	MadeBy   string `db:"made_by"`
	Entered  *int64 `db:"entered"`  // when its lines were entered, UTC ms
	DogName  string `db:"dog_name"` // read alone
	Who      string `db:"who"`      // the person's name, read alone
}

// Where a letter is.
const (
	BoxOut = "out"
	BoxIn  = "in"
)

const letterColumns = `id, box, mail, answers, dog, person, subject, text, raw, homework, made, made_by, entered`

// AddLetter keeps a letter; it says false where its box has it already.
func (q Q) AddLetter(ctx context.Context, l Letter) (bool, error) {
	n, err := q.exec(ctx, `INSERT INTO letters (`+letterColumns+`) VALUES (?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?, ?)
		ON CONFLICT (box, mail) DO NOTHING`,
		l.ID, l.Box, l.Mail, l.Answers, l.Dog, l.Person, l.Subject, l.Text, l.Raw, l.Homework, l.Made, l.MadeBy, l.Entered)
	return n == 1, err
}

const letterSelect = `SELECT l.id, l.box, l.mail, l.answers, l.dog, l.person, l.subject, l.text, l.homework, l.made, l.made_by, l.entered,
	d.name AS dog_name, coalesce(w.name, '') AS who`

const letterFrom = ` FROM letters l JOIN dogs d ON d.id = l.dog LEFT JOIN people w ON w.id = l.person `

// Letters lists the latest of both boxes, at most so many, without their files.
func (q Q) Letters(ctx context.Context, limit int) (list []Letter, err error) {
	err = q.many(ctx, &list, letterSelect+letterFrom+`ORDER BY l.made DESC, l.rowid DESC LIMIT ?`, limit)
	return list, err
}

// LetterOf loads a letter with its file.
func (q Q) LetterOf(ctx context.Context, id string) (l Letter, err error) {
	err = q.one(ctx, &l, letterSelect+`, l.raw`+letterFrom+`WHERE l.id = ?`, id)
	return l, err
}

// LetterSent loads the letter that was sent under a Message-ID.
func (q Q) LetterSent(ctx context.Context, mail string) (l Letter, err error) {
	err = q.one(ctx, &l, letterSelect+letterFrom+`WHERE l.box = 'out' AND l.mail = ?`, mail)
	return l, err
}

// EnterLetter notes that the lines of a letter were entered; it says whether they were not before.
func (q Q) EnterLetter(ctx context.Context, id string, at int64) (bool, error) {
	n, err := q.exec(ctx, `UPDATE letters SET entered = ? WHERE id = ? AND box = 'in' AND entered IS NULL`, at, id)
	return n == 1, err
}
