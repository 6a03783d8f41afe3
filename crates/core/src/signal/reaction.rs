//! Does it react to a push, and does it come back? Followed sample by sample while somebody looks
//! the scale over. Source: OIML R 76-1:2006, 3.8 and 4.12 as practice before any adjusting.

use crate::wording::Text;
use serde::Serialize;
use utoipa::ToSchema;

/// Pushes that are kept.
const KEPT: usize = 8;
/// A push is more than so many divisions; less is noise.
const LEAST_D: f64 = 2.0;
/// It has come back where it rests within so many divisions of where it was.
const BACK_D: f64 = 0.5;

/// One push: from rest, away, and to rest again.
#[derive(Clone, Debug, PartialEq, Serialize, ToSchema)]
pub struct Reaction {
    /// Farthest that it went, in divisions; below zero where it fell.
    pub moved_d: f64,
    /// Where it rests now against where it rested, in divisions.
    pub back_d: f64,
    /// It rose and came back.
    pub in_order: bool,
    /// In words.
    pub says: Text,
}

impl Reaction {
    fn of(moved_d: f64, back_d: f64) -> Self {
        let (rose, back) = (moved_d > 0.0, back_d.abs() <= BACK_D);
        let says = match (rose, back) {
            (true, true) => text!("reaction-rose-by-moved-d-d", moved_d = crate::wording::fixed(moved_d, 0)),
            (true, false) => text!(
                "reaction-rose-by-moved-d-d-2",
                moved_d = crate::wording::fixed(moved_d, 0),
                back_d = crate::wording::signed(back_d, 1)
            ),
            (false, _) => {
                text!("reaction-fell-by-abs-d-under", abs = crate::wording::fixed(moved_d.abs(), 0))
            }
        };
        Self { moved_d, back_d, in_order: rose && back, says }
    }
}

/// Follows a signal.
#[derive(Clone, Debug, Default)]
pub struct Follow {
    rested: Option<f64>,
    farthest: f64,
    seen: Vec<Reaction>,
}

impl Follow {
    /// A sample, in divisions, with the mean of the window where it is steady.
    pub fn push(&mut self, value_d: f64, steady_mean_d: Option<f64>) {
        let Some(rested) = self.rested else {
            self.rested = steady_mean_d;
            return;
        };
        match steady_mean_d {
            None => {
                let off = value_d - rested;
                // A push shows in the way it goes first; let go, it swings past the other way.
                let same_way = off * self.farthest >= 0.0 || self.farthest.abs() < LEAST_D;
                if same_way && off.abs() > self.farthest.abs() {
                    self.farthest = off;
                }
            }
            Some(mean) => {
                if self.farthest.abs() >= LEAST_D {
                    self.seen.push(Reaction::of(self.farthest, mean - rested));
                    if self.seen.len() > KEPT {
                        self.seen.remove(0);
                    }
                }
                self.farthest = 0.0;
                self.rested = Some(mean);
            }
        }
    }

    /// The signal was cut: what comes next is not compared with what was before.
    pub const fn reset(&mut self) {
        self.rested = None;
        self.farthest = 0.0;
    }

    /// The last pushes, the newest last.
    pub fn seen(&self) -> &[Reaction] {
        &self.seen
    }
}

/// A corner that rises by less than this share of the others is no difference of the foot.
const LEAST_SHARE: f64 = 0.5;

/// Stepping or pressing on each corner in turn: do they rise alike? None below two pushes.
pub fn compare_rises(seen: &[Reaction]) -> Option<Text> {
    let (least, most) = seen
        .iter()
        .map(|r| r.moved_d)
        .fold((f64::MAX, f64::MIN), |(least, most), moved| (least.min(moved), most.max(moved)));
    if seen.len() < 2 {
        return None;
    }
    let all = seen.len();
    Some(if least <= 0.0 {
        text!("reaction-one-of-all-fell-by", all, abs = crate::wording::fixed(least.abs(), 0))
    } else if least < LEAST_SHARE * most {
        text!(
            "reaction-one-of-all-rose-by",
            all,
            least = crate::wording::fixed(least, 0),
            most = crate::wording::fixed(most, 0)
        )
    } else {
        text!(
            "reaction-all-all-rose-alike-by",
            all,
            least = crate::wording::fixed(least, 0),
            most = crate::wording::fixed(most, 0)
        )
    })
}

#[cfg(test)]
mod tests {
    use super::*;
    use proptest::prelude::*;

    /// Rest, a push of some samples, rest again.
    fn pushed(follow: &mut Follow, from: f64, peak: f64, to: f64) {
        follow.push(from, Some(from));
        for part in [0.3, 1.0, 0.6, 0.2] {
            follow.push(from + part * peak, None);
        }
        follow.push(to, Some(to));
    }

    proptest! {
        #[test]
        fn a_push_is_told_by_its_farthest_and_by_where_it_comes_to_rest(from in -50.0f64..50.0, peak in 2.5f64..900.0, off in -40.0f64..40.0) {
            let mut follow = Follow::default();
            pushed(&mut follow, from, peak, from + off);
            let seen = &follow.seen()[0];
            prop_assert!((seen.moved_d - peak).abs() < 1e-6 && (seen.back_d - off).abs() < 1e-6);
            prop_assert_eq!(seen.in_order, off.abs() <= BACK_D);
        }

        #[test]
        fn noise_is_no_push_and_only_the_last_are_kept(noise in proptest::collection::vec(-0.9f64..0.9, 1..60), pushes in 0usize..20) {
            let mut follow = Follow::default();
            follow.push(0.0, Some(0.0));
            for value in noise {
                follow.push(value, None);
                follow.push(0.0, Some(0.0));
            }
            prop_assert!(follow.seen().is_empty());
            for _ in 0..pushes {
                pushed(&mut follow, 0.0, 20.0, 0.0);
            }
            prop_assert_eq!(follow.seen().len(), pushes.min(KEPT));
        }
    }

    #[test]
    fn a_signal_that_falls_under_a_push_is_named_and_a_cut_line_is_no_push() {
        let mut follow = Follow::default();
        pushed(&mut follow, 0.0, -30.0, 0.0);
        assert!(
            !follow.seen()[0].in_order && follow.seen()[0].says.to_string().contains("swapped signal wires")
        );
        follow.push(500.0, None);
        follow.reset();
        follow.push(500.0, Some(500.0));
        assert_eq!(follow.seen().len(), 1);
    }

    #[test]
    fn corners_that_rise_alike_are_told_from_a_dead_and_an_inverted_cell() {
        let step = |moved: f64| Reaction::of(moved, 0.0);
        assert_eq!(compare_rises(&[step(300.0)]), None);
        let says = |moved: [f64; 4]| compare_rises(&moved.map(step)).unwrap();
        assert!(says([300.0, 280.0, 310.0, 260.0]).to_string().starts_with("All 4 rose alike"));
        assert!(says([300.0, 12.0, 310.0, 260.0]).to_string().contains("a cell gives too little"));
        assert!(says([300.0, -250.0, 310.0, 260.0]).to_string().contains("inverted"));
    }
}
