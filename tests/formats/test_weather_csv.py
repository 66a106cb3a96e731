"""Weather from files made elsewhere, and back."""

import pytest

from ribpatch.core.errors import FileProblem
from ribpatch.core.simulated_air import simulated_forecast
from ribpatch.core.timetable import Timetable
from ribpatch.formats.weather_csv import read_weather, weather_of, weather_text


def test_what_is_written_is_read_back():
    made = simulated_forecast(Timetable(start="2026-12-01"), "")
    again = weather_of(weather_text(made), "x.csv")
    assert again.temperature == made.temperature and again.start == made.start and again.rain == made.rain
    assert again.humidity == pytest.approx(made.humidity) and again.origin == "from x.csv"


def test_a_foreign_file_with_commas_gaps_and_quarters_of_an_hour(tmp_path):
    path = tmp_path / "station.csv"
    path.write_text(
        "Zeit/time;Temp °C;rel. hum %;Rain mm\n"
        "2026-12-01 00:00;4,5;80;0\n2026-12-01 00:30;5,5;82;0,4\n\n2026-12-01 03:15;8,0;70;\n",
        encoding="latin-1",
    )
    made = read_weather(path)
    assert made.temperature == pytest.approx((5.0, 6.0, 7.0, 8.0)) and made.humidity[0] == pytest.approx(0.81)
    assert made.rain == (0.4, 0, 0, 0) and made.start == "2026-12-01T00:00"


def test_fahrenheit_and_inches_by_their_headings():
    made = weather_of("time,temp degF,RH,rain in\n2026-12-01T06:00,50,0.5,0.1\n", "us.csv")
    assert made.temperature == (10.0,) and made.rain == (2.54,)


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "is empty"),
        ("time,wind\n2026-12-01 00:00,3\n", "no column for temperature and humidity"),
        ("time,temp,hum\n1 December,3,50\n", "line 2: “1 December” is no time"),
        ("time,temp,hum\n2026-12-01 00:00,warm,50\n", "line 2: temperature “warm” is no number"),
        ("time,temp,hum\n2026-12-01 00:00,99,50\n", "a temperature of 99 is outside"),
        ("time,temp,hum\n", "no hours"),
        (
            "time,temp,hum\n2026-12-01 00:00,3,50\n2026-12-05 00:00,3,50\n",
            "95 hours are missing after 2026-12-01 00:00",
        ),
        ("time,temp,hum\n2020-12-01 00:00,3,50\n2026-12-05 00:00,3,50\n", "spans 2195 days"),
    ],
)
def test_what_is_wrong_is_told_with_its_line(text, words):
    with pytest.raises(FileProblem, match=words):
        weather_of(text, "x.csv")
