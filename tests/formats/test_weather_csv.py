"""Weather from files made elsewhere, and back."""

import pytest

from ribpatch.core.errors import FileProblem
from ribpatch.core.simulated_air import simulated_forecast
from ribpatch.core.timetable import Timetable
from ribpatch.formats.weather_csv import (
    UnclearWeather,
    WeatherColumns,
    forecast_of,
    read_weather,
    weather_of,
    weather_table,
    weather_text,
)


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
    made = weather_of("time,temp degF,RH %,rain in\n2026-12-01T06:00,50,55,0.1\n", "us.csv")
    assert made.temperature == (10.0,) and made.rain == (2.54,) and made.humidity == (0.55,)


def test_a_heading_is_of_what_it_names_first_and_what_is_in_doubt_is_asked():
    text = "time, humidity at temp sensor, temperature\n2026-12-01 00:00,50,8\n"
    table = weather_table(text, "a.csv")
    assert (table.guess.time, table.guess.humidity, table.guess.temperature) == (0, 1, 2)
    assert table.doubts == ("“humidity at temp sensor” is taken for the humidity",)
    with pytest.raises(UnclearWeather, match="humidity at temp sensor"):
        weather_of(text, "a.csv")
    made = forecast_of(table, table.guess)
    assert made.temperature == (8.0,) and made.humidity == (0.5,)
    two = weather_table("time,temp,dew temp,hum %\n2026-12-01 00:00,8,3,50\n", "b.csv")
    assert two.guess.temperature == 1 and two.doubts == ()
    alike = weather_table("time,temp a,temp b,hum %\n2026-12-01 00:00,8,3,50\n", "c.csv")
    assert alike.doubts == ("“temp a” is taken for the temperature",)


def test_humidity_is_percent_or_a_share_by_all_its_values_and_asked_where_they_do_not_tell():
    rows = "2026-12-01 00:00,8,{}\n2026-12-01 01:00,8,{}\n"
    small = weather_table("time,temp,hum\n" + rows.format(0.9, 0.8), "a.csv")
    assert small.guess.share and "percent or a share" in small.doubts[0]
    with pytest.raises(UnclearWeather, match=r"0\.9 at most"):
        weather_of("time,temp,hum\n" + rows.format(0.9, 0.8), "a.csv")
    assert forecast_of(small, small.guess).humidity == (0.9, 0.8)
    with pytest.raises(FileProblem, match=r"a humidity of 0\.9 % is outside 2 to 100"):
        forecast_of(small, WeatherColumns(0, 1, 2))
    with pytest.raises(FileProblem, match=r"line 2: a humidity of 0\.9 % is outside"):  # one of many: no share
        weather_of("time,temp,hum\n" + rows.format(0.9, 80), "a.csv")
    assert weather_of("time,temp,hum (share)\n" + rows.format(0.9, 0.8), "a.csv").humidity == (0.9, 0.8)


def test_zones_of_times_are_kept(monkeypatch):
    import time

    monkeypatch.setenv("TZ", "UTC-2")  # two hours east
    time.tzset()
    try:
        body = "2026-12-01T{},8,50\n"
        assert weather_of("time,temp,hum\n" + body.format("00:00Z"), "a.csv").start == "2026-12-01T02:00"
        assert weather_of("time,temp,hum\n" + body.format("00:00-05:00"), "a.csv").start == "2026-12-01T07:00"
        assert weather_of("time (UTC),temp,hum\n" + body.format("00:00"), "a.csv").start == "2026-12-01T02:00"
        assert weather_of("time,temp,hum\n" + body.format("00:00"), "a.csv").start == "2026-12-01T00:00"
    finally:
        monkeypatch.undo()
        time.tzset()


def test_columns_can_be_said_and_none_serves_twice():
    table = weather_table("a;b;c\n2026-12-01 00:00;50;68\n", "a.csv")
    assert len(table.doubts) == 3
    made = forecast_of(table, WeatherColumns(0, 2, 1, fahrenheit=True))
    assert made.temperature == (20.0,) and made.humidity == (0.5,)
    with pytest.raises(FileProblem, match="temperature and humidity in one column"):
        forecast_of(table, WeatherColumns(0, 1, 1))
    with pytest.raises(FileProblem, match="no column for temperature"):
        forecast_of(table, WeatherColumns(0, -1, 1))


def test_a_hundred_thousand_unclosed_quotes_are_told_line_by_line():
    text = "time,temp,hum\n" + '"2026-12-01 14:00,5,80\n' * 100_000
    with pytest.raises(FileProblem, match=r"line 2: a quotation mark is opened here.*and 99980 more"):
        weather_of(text, "a.csv")


@pytest.mark.parametrize(
    ("text", "words"),
    [
        ("", "is empty"),
        ("time,wind\n2026-12-01 00:00,3\n", "no column for temperature and humidity"),
        ("time,temp,hum\n1 December,3,50\n", "line 2: “1 December” is no time"),
        ("time,temp,hum\n2026-12-01 00:00,warm,50\n", "line 2: temperature “warm” is no number"),
        ("time,temp degC,hum\n2026-12-01 00:00,99,50\n", "a temperature of 99 °C is outside -45 to 60"),
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
