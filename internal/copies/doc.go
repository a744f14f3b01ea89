// Package copies keeps a practice safe: whole copies in one file, checked after they are written and whenever somebody asks;
// daily ones beside the database; restoring; and a continuous copy to another folder or to S3-compatible storage.
//
// A whole copy is a ZIP file with the database (practice.db) and a manifest (manifest.json): version, counts, and the hash of
// every table, so that a single changed letter is found. It may be encrypted as an age file. What lets devices in, or signs
// forms, is in none.
package copies
