//! Counting in days.

use jiff::civil::Date;

/// `days` after `date`; before it when negative. At the ends of the calendar it stays there.
///
/// # Example
/// ```
/// use jiff::civil::date;
/// use murlo_base::days::days_after;
/// assert_eq!(days_after(date(2026, 2, 27), 2), date(2026, 3, 1));
/// ```
#[must_use]
pub fn days_after(date: Date, days: i32) -> Date {
    date.saturating_add(jiff::Span::new().days(days))
}
