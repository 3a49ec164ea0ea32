//! Water reports of made-up places, as the demo looks them up; a household types its own supplier's figures.

use murlo_brewer::report::Report;
use murlo_brewer::water::Reading;

/// Every report there is, by place.
pub fn reports() -> Vec<Report> {
    const TABLE: [(&str, &str, [f64; 5]); 6] = [
        (
            "Cairn Head",
            "Orrin Hill Springs",
            [9.8, 2.1, 31.0, 7.3, 58.0],
        ),
        (
            "Ferry Quay",
            "Orrin Sound Water",
            [102.0, 11.5, 288.0, 7.5, 430.0],
        ),
        (
            "Harbour and Net Lofts",
            "Orrin Sound Water",
            [98.0, 10.9, 274.0, 7.5, 415.0],
        ),
        (
            "Kiln Brae",
            "Orrin Hill Springs",
            [14.2, 2.6, 44.0, 7.4, 77.0],
        ),
        (
            "Salt Marsh Road",
            "Orrin Sound Water",
            [61.0, 18.0, 172.0, 7.7, 390.0],
        ),
        (
            "Wester Croft",
            "Wester Croft Wells",
            [76.0, 9.4, 265.0, 7.2, 340.0],
        ),
    ];
    TABLE
        .map(|(place, supplier, [ca, mg, hco3, ph, tds])| Report {
            place: place.to_owned(),
            supplier: supplier.to_owned(),
            reading: Reading::Label {
                ca_mg_l: ca,
                mg_mg_l: mg,
                hco3_mg_l: hco3,
                ph: Some(ph),
                tds_mg_l: Some(tds),
            },
        })
        .into()
}

#[cfg(test)]
mod tests {
    use super::*;
    use murlo_brewer::water::{Chemistry, Waters};

    #[test]
    fn every_report_is_a_water_and_they_stand_in_order() {
        let reports = reports();
        assert!(reports.is_sorted_by(|a, b| a.place < b.place));
        for report in reports {
            let chemistry = Chemistry::of(&report.reading, &Waters::new()).unwrap();
            assert!(
                (20.0..400.0).contains(&chemistry.hardness),
                "{}",
                report.place
            );
        }
    }
}
