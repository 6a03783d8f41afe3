//! The lessons that ship with the program, played at the bench itself: what is hidden can be seen
//! from the readings, and its cure cures it.

use ombret_bench::{Answer, Scale, ScaleSettings};
use ombret_core::practice::{Cure, Lesson, LessonError, LessonText, read_lesson};
use ombret_core::quantity::{Decimal, Mass};
use ombret_core::scale::ScaleSheet;
use ombret_core::wording::Language;
use uuid::Uuid;

fn lessons() -> Vec<(String, Lesson, ScaleSettings)> {
    let folder = concat!(env!("CARGO_MANIFEST_DIR"), "/../../demo/lessons");
    let mut files: Vec<_> = std::fs::read_dir(folder).unwrap().map(|f| f.unwrap().path()).collect();
    files.sort();
    files
        .into_iter()
        .map(|path| {
            let text = std::fs::read_to_string(&path).unwrap();
            let lesson =
                read_lesson(&text, Uuid::nil()).unwrap_or_else(|e| panic!("{}: {e}", path.display()));
            let bench = serde_json::from_value(lesson.bench.clone())
                .unwrap_or_else(|e| panic!("{}: {e}", path.display()));
            (text, lesson, bench)
        })
        .collect()
}

/// Hands at a scale: loads in the sheet's unit.
struct Hands {
    scale: Scale,
    sheet: ScaleSheet,
    per_kg: f64,
}

/// What was read: shown and steady; none where the display shows no figure.
type Read = Option<(f64, bool)>;

impl Hands {
    fn at(lesson: &Lesson, bench: &ScaleSettings) -> Self {
        let per_kg = if bench.panel.unit == "g" { 1000.0 } else { 1.0 };
        let mut hands = Self { scale: Scale::new(bench), sheet: lesson.sheet.clone(), per_kg };
        hands.wait();
        hands
    }

    fn act(&mut self, line: &str) -> Result<Answer, String> {
        self.scale.act(line.parse().unwrap()).map_err(|e| e.to_string())
    }

    fn wait(&mut self) -> Read {
        // Half a minute and a little, for a long swing.
        let mut line = String::new();
        for _ in 0..400 {
            line = self.scale.tick(0.1);
        }
        let mut words = line.split(' ');
        let steady = words.next() == Some("steady");
        Some((words.next()?.parse().ok()?, steady))
    }

    fn max(&self) -> f64 {
        self.sheet.rated().unwrap().0.value.to_f64()
    }

    /// Errors at shares of Max, in their tolerances; infinite where nothing can be read.
    fn worst(&mut self, shares: &[f64]) -> f64 {
        let (max, d) = self.sheet.rated().unwrap();
        let mut worst = 0.0f64;
        for share in shares {
            let d_value = d.value.to_f64();
            let load = (share * self.max() / d_value).floor() * d_value;
            self.act("clear").unwrap();
            self.wait();
            if load > 0.0 {
                self.act(&format!("put {}", load / self.per_kg)).unwrap();
            }
            let as_mass = Mass::new(Decimal::from_measured(load, 6).unwrap(), d.unit);
            let mpe =
                self.sheet.tolerance.at(&as_mass, Some(&d), Some(&max)).unwrap().value_in(d.unit).to_f64();
            worst = worst.max(match self.wait() {
                Some((shown, true)) => (shown - load).abs() / mpe,
                _ => f64::INFINITY,
            });
        }
        self.act("clear").unwrap();
        self.wait();
        worst
    }

    fn mend(&mut self, lesson: &Lesson) {
        let mended =
            lesson.hidden.items.iter().filter(|item| self.act(&format!("mend {item}")).is_ok()).count();
        assert_eq!(mended, 1, "{}: mended at one place", lesson.id);
        self.wait();
    }

    fn span(&mut self, share: f64) {
        let weight = (share * self.max()).floor();
        self.act("zero").unwrap();
        self.act(&format!("put {}", weight / self.per_kg)).unwrap();
        self.wait();
        self.act(&format!("span {weight}")).unwrap();
    }
}

const SHARES: [f64; 5] = [0.0, 0.25, 0.5, 0.75, 1.0];

#[test]
fn there_are_lessons_over_the_faults_and_the_procedures_each_with_its_own_name() {
    let lessons = lessons();
    assert!(lessons.len() >= 14, "{}", lessons.len());
    for cure in [
        Cure::Leave,
        Cure::ZeroOnly,
        Cure::Span,
        Cure::Points,
        Cure::Internal,
        Cure::Repair,
        Cure::RepairAndSpan,
        Cure::Stop,
    ] {
        assert!(lessons.iter().any(|(_, l, _)| l.hidden.cure == cure), "{cure:?}");
    }
    for (i, (_, lesson, bench)) in lessons.iter().enumerate() {
        assert!(lesson.sheet.practice && !lesson.hints.is_empty(), "{}", lesson.id);
        assert_eq!(bench.pads.len() + 1, usize::from(lesson.sheet.pads), "{}", lesson.id);
        assert!(
            lessons
                .iter()
                .skip(i + 1)
                .all(|(_, other, _)| other.id != lesson.id && other.sheet.serial != lesson.sheet.serial),
            "{}",
            lesson.id
        );
    }
}

#[test]
fn what_is_hidden_shows_and_its_cure_cures_it() {
    for (_, lesson, bench) in lessons() {
        let mut hands = Hands::at(&lesson, &bench);
        let corners_tell = lesson.hidden.items.iter().any(|i| i == "corners");
        let returns_tell = lesson.hidden.items.iter().any(|i| i == "free");
        let found = hands.worst(&SHARES);
        // Only what shakes, jumps, drifts or shows no figure may fail to rest.
        let restless = lesson.hidden.items.iter().any(|i| i == "zero" || i == "cable");
        assert!(hands.worst(&SHARES[..4]).is_finite() || restless, "{}: it never rests", lesson.id);
        match lesson.hidden.cure {
            Cure::Leave => assert!(found <= 1.0, "{}: {found}", lesson.id),
            // What a corner or the way back tells need not tell in the middle going up.
            _ if corners_tell || returns_tell => {}
            Cure::Span if lesson.sheet.pads > 1 => {}
            _ => assert!(found > 1.0, "{}: nothing is to be seen, {found}", lesson.id),
        }
        match lesson.hidden.cure {
            Cure::Leave => continue,
            Cure::Stop => {
                assert!(hands.act("zero").is_err(), "{}", lesson.id);
                continue;
            }
            Cure::ZeroOnly => {
                hands.act("zero").unwrap();
                hands.act("save").unwrap();
            }
            Cure::Span => {
                for pad in 1..=lesson.sheet.pads {
                    if lesson.sheet.pads > 1 {
                        hands.act(&format!("pad {pad}")).unwrap();
                        hands.wait();
                    }
                    hands.span(0.5);
                    hands.act("save").unwrap();
                    hands.act("clear").unwrap();
                    hands.wait();
                }
            }
            Cure::Points => {
                hands.span(1.0);
                for share in [0.25, 0.5, 0.75] {
                    hands.act("clear").unwrap();
                    let weight = (share * hands.max()).floor();
                    hands.act(&format!("put {weight}")).unwrap();
                    hands.wait();
                    hands.act(&format!("point {weight}")).unwrap();
                }
                hands.act("save").unwrap();
            }
            Cure::Internal => {
                hands.act("internal").unwrap();
                let load = 300.0;
                hands.act(&format!("put {}", load / hands.per_kg)).unwrap();
                let (shown, _) = hands.wait().unwrap();
                hands.act("clear").unwrap();
                hands.wait();
                let kept = bench.internal.as_ref().unwrap().kept;
                hands.act(&format!("keep {}", kept * load / shown)).unwrap();
                hands.act("internal").unwrap();
            }
            Cure::Factor => unreachable!("no lesson is cured by a factor yet"),
            Cure::Repair => hands.mend(&lesson),
            Cure::RepairAndSpan => {
                hands.mend(&lesson);
                assert!(hands.worst(&SHARES) > 1.0, "{}: the repair alone would do", lesson.id);
                hands.span(0.5);
                hands.act("save").unwrap();
            }
        }
        let left = hands.worst(&SHARES);
        assert!(left <= 1.0, "{}: {left} of the tolerance is left after its cure", lesson.id);
        if corners_tell {
            let load = hands.max() / 3.0;
            for (x, y) in [(0.25, 0.25), (0.75, 0.25), (0.75, 0.75), (0.25, 0.75)] {
                hands.act(&format!("put {load} at {x} {y}")).unwrap();
                let (shown, _) = hands.wait().unwrap();
                assert!(
                    (shown - load).abs() <= 2.0 * hands.sheet.rated().unwrap().1.value.to_f64(),
                    "{} at {x} {y}: {shown} of {load}",
                    lesson.id
                );
                hands.act("clear").unwrap();
                hands.wait();
            }
        }
    }
}

#[test]
fn a_shipped_lesson_is_told_in_every_language() {
    for (_, lesson, bench) in lessons() {
        let own = [&lesson.title, &lesson.story, &lesson.hidden.is, &lesson.hidden.missed];
        let found = bench.conditions.iter().flat_map(|c| std::iter::once(&c.seen).chain(&c.mended));
        for told in own.into_iter().chain(&lesson.hints).chain(found) {
            assert_eq!(told.languages().collect::<Vec<_>>(), Language::ALL, "{}: {told:?}", lesson.id);
            let said = Language::ALL.map(|language| language.say(&told.into()));
            assert!(said[0] != said[1] && said.iter().all(|s| !s.is_empty()), "{}: {said:?}", lesson.id);
        }
    }
}

#[test]
fn a_lesson_of_one_language_is_read_so_by_everybody() {
    let (text, lesson, _) = lessons().remove(3);
    let mut file: serde_json::Value = serde_json::from_str(&text).unwrap();
    file["title"] = "Right for little".into();
    file["hints"] = serde_json::json!(["Look under it.", {"de": "Durch den Spalt."}]);
    let own = read_lesson(&file.to_string(), Uuid::nil()).unwrap();
    let said = |told: &LessonText| Language::ALL.map(|language| language.say(&told.into()));
    assert_eq!(said(&own.title), ["Right for little"; 2]);
    assert_eq!(said(&own.hints[1]), ["Durch den Spalt."; 2]);
    assert_eq!(own.story, lesson.story);
    file["story"] = serde_json::json!({"en": "“It reads less.”", "de": " "});
    assert!(matches!(
        read_lesson(&file.to_string(), Uuid::nil()),
        Err(LessonError::Wrong { part: "story", .. })
    ));
}

#[test]
fn a_lesson_that_does_not_hold_together_is_refused_at_its_part() {
    let (text, _, _) = lessons().remove(3);
    let with = |from: &str, to: &str| {
        assert!(text.contains(from), "{from}");
        read_lesson(&text.replace(from, to), Uuid::nil()).unwrap_err()
    };
    let part = |error: LessonError| match error {
        LessonError::Wrong { part, .. } => part,
        other => panic!("{other}"),
    };
    assert_eq!(part(with("\"04-stone-in-the-gap\"", "\"Stone in the gap!\"")), "id");
    assert_eq!(part(with("[\"gap\"]", "[\"gapp\"]")), "hidden.items");
    assert_eq!(part(with("[\"gap\"]", "[]")), "hidden.items");
    assert_eq!(part(with("\"minutes\": 30", "\"minutes\": 0")), "good");
    assert_eq!(part(with("\"d_min\": {\"value\": \"0.5\"", "\"d_min\": {\"value\": \"5000\"")), "sheet");
    assert!(matches!(with("\"cure\": \"repair\"", "\"cure\": \"hope\""), LessonError::Unreadable(_)));
    assert!(matches!(with("\"hints\"", "\"hint\""), LessonError::Unreadable(_)));
    assert!(matches!(read_lesson(&" ".repeat(70_000), Uuid::nil()), Err(LessonError::TooLarge)));
}
