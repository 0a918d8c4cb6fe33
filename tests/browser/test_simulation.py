"""A run of the drive at the Signals station."""

from __future__ import annotations

import re
import zipfile

from playwright.sync_api import Locator, Page, expect


def simulation(page: Page, build: str, drive: str = "") -> Locator:
    """Where runs are made, of a build's drive."""
    page.goto(f"/b/{build}/signals{drive and f'?drive={drive}'}")
    page.get_by_role("tab", name="In time").click()
    return page.get_by_role("region", name="Simulation")


def test_a_run_is_simulated_read_off_and_exported(page: Page, carousel: str) -> None:
    part = simulation(page, carousel)
    part.get_by_label("Scenario").select_option(label="Reverse at once")
    part.get_by_role("button", name="Run").click()
    expect(part.locator(".run-figures")).to_contain_text("Peak current", timeout=20000)
    expect(part.locator(".plot svg").first).to_be_visible()
    cursors = part.get_by_role("group", name="Cursors")
    expect(cursors).to_contain_text("B − A")
    before = cursors.inner_text()
    part.get_by_label("A", exact=True).focus()
    page.keyboard.press("End")
    expect(cursors).not_to_have_text(before)
    part.get_by_role("button", name="Single pulses at A").click()
    expect(part).to_contain_text("Six PWM periods", timeout=20000)
    with page.expect_download() as dump:
        part.get_by_role("button", name="Export VCD").click()
    assert dump.value.suggested_filename == "run.vcd"
    with page.expect_download() as got:
        part.get_by_role("button", name="Export CSV").click()
    assert got.value.suggested_filename == "run.csv"


def test_a_stretch_of_a_run_is_drawn_turned_and_grabbed(page: Page, carousel: str) -> None:
    part = simulation(page, carousel)
    part.get_by_role("button", name="Run").click()
    told = part.locator(".run-span [role=status]")
    expect(told).to_contain_text("Draw over the plot", timeout=20000)
    hands = part.locator(".plot-hands").first

    def at(share: float) -> tuple[float, float]:
        hands.scroll_into_view_if_needed()
        box = hands.bounding_box()
        assert box is not None
        return box["x"] + share * box["width"], box["y"] + box["height"] / 2

    def reads() -> list[float]:
        found = re.findall(r"([\d.]+) s", told.inner_text())
        return [float(x) for x in found]

    # A wheel that passes over the plot leaves it alone; pressed once, the plot takes it, and gives it back at the end.
    page.mouse.move(*at(0.5))
    page.mouse.wheel(0, -200)
    expect(told).to_contain_text("Draw over the plot")
    page.mouse.move(*at(0.05))
    page.mouse.down()
    page.mouse.move(*at(0.15), steps=4)
    page.mouse.up()
    expect(told).to_contain_text("From")
    first, last = reads()
    assert 0.07 < (last - first) / (last / 0.15) < 0.13
    page.mouse.wheel(0, 400)
    expect(told).not_to_contain_text(f"to {last:g} s")
    assert reads()[1] > last
    hands.dblclick(position={"x": 200, "y": 80})
    expect(told).to_contain_text("Draw over the plot")
    # Cursor A, grabbed where it stands, goes with the pointer; its neighbour stays.
    cursors = part.get_by_role("group", name="Cursors")
    slider_a, slider_b = cursors.get_by_role("slider").nth(0), cursors.get_by_role("slider").nth(1)
    a, b = float(slider_a.input_value()), float(slider_b.input_value())
    most = float(slider_a.get_attribute("max") or 0)
    line = part.locator(".plot .mark line").first
    here = line.bounding_box()
    assert here is not None
    page.mouse.move(here["x"], here["y"] + 40)
    page.mouse.down()
    page.mouse.move(here["x"] + (at(1)[0] - at(0)[0]) / 10, here["y"] + 40, steps=5)
    page.mouse.up()
    expect(told).to_contain_text("Draw over the plot")
    assert float(slider_a.input_value()) > a + 0.03 * most
    assert float(slider_b.input_value()) == b


def test_keys_look_closer_down_to_single_pulses(page: Page, carousel: str) -> None:
    part = simulation(page, carousel)
    part.get_by_role("button", name="Run").click()
    closer = part.get_by_role("button", name="Closer")
    expect(closer).to_be_enabled(timeout=20000)
    told = part.locator(".run-span [role=status]")
    closer.focus()
    for _ in range(12):
        before = told.inner_text()
        page.keyboard.press("Enter")
        expect(told).not_to_have_text(before)
        if closer.is_disabled():
            break
    expect(closer).to_be_disabled()
    expect(part).to_contain_text("Six PWM periods", timeout=20000)
    expect(part.get_by_role("img", name="Motor current and bus over six PWM periods").first).to_be_visible()
    part.get_by_role("button", name="All of it").click()
    expect(told).to_contain_text("Draw over the plot")


def test_a_soft_start_runs_with_every_pulse(page: Page, carousel: str) -> None:
    part = simulation(page, carousel)
    part.get_by_label("every pulse").check()
    part.get_by_role("button", name="Run").click()
    expect(part).to_contain_text("Peak current", timeout=30000)
    expect(part.get_by_role("alert")).to_have_count(0)


def test_a_run_that_cannot_be_done_says_why(page: Page, puppets: str) -> None:
    part = simulation(page, puppets, "d1")
    part.get_by_label("Scenario").select_option(label="Duty cut to a third: the motor feeds the supply")
    part.get_by_role("button", name="Run").click()
    expect(part.get_by_role("alert")).to_contain_text("nothing is fed back", timeout=30000)


def test_a_slider_runs_it_anew_and_a_fault_is_shown(page: Page, carousel: str) -> None:
    part = simulation(page, carousel)
    part.get_by_label("Scenario").select_option(label="Start at full duty at once")
    part.get_by_role("button", name="Run").click()
    figures = part.locator(".run-figures")
    expect(figures).to_contain_text("Speed at the end", timeout=20000)
    before = figures.inner_text()
    slider = part.get_by_label("Working duty")
    slider.focus()
    for _ in range(10):
        page.keyboard.press("ArrowRight")
    expect(figures).not_to_have_text(before, timeout=20000)
    part.get_by_label("Fault").select_option(label="Flyback diode open")
    part.get_by_role("button", name="Run").click()
    expect(part.get_by_role("alert")).to_contain_text("no diode has to carry it")


def test_the_panel_is_pressed_by_keyboard_and_the_motor_answers(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/signals?drive=d1")
    page.get_by_role("tab", name="Pulses").focus()
    for _ in range(2):
        page.keyboard.press("ArrowRight")
    expect(page.get_by_role("tab", name="Panel")).to_have_attribute("aria-selected", "true")
    forward = page.get_by_role("button", name="Forward", exact=True)
    forward.focus()
    page.keyboard.press("Enter")
    page.get_by_role("button", name="Wait 1 s").click()
    status = page.locator(".try-now")
    expect(status).to_contain_text("drives forward", timeout=20000)
    expect(status).not_to_contain_text("motor 0 rpm")
    page.get_by_role("button", name="Stop", exact=True).click()
    expect(status).to_contain_text("stopped", timeout=20000)
    expect(page.locator(".machine-now text")).to_have_text("stopped")
    expect(page.get_by_text("It never drives into a pressed limit.")).to_be_visible()


def test_an_unsafe_choice_shows_the_presses_that_lead_there(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/signals?drive=d1")
    page.get_by_label("Stop stays until cleared").select_option(label="No")
    page.get_by_role("tab", name="Panel").click()
    expect(page.get_by_text("It never drives with the stop latched: it can.")).to_be_visible(timeout=20000)
    expect(page.locator(".verdict-broken ol li").first).to_be_visible()


def test_a_program_is_made_saved_and_made_anew_round_my_own_part(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/signals?drive=d1")
    page.get_by_role("tab", name="Program").click()
    page.get_by_role("button", name="Make the program").click()
    source = page.locator("pre.source")
    expect(source).to_contain_text("CURTAIN_WINCH_FULL", timeout=20000)
    with page.expect_download() as got:
        page.get_by_role("button", name="Save program.c").click()
    text = got.value.path().read_text("utf-8")
    with page.expect_download() as whole:
        page.get_by_role("button", name="Save all for the board").click()
    assert "Makefile" in zipfile.ZipFile(whole.value.path()).namelist()
    mark = "/* yours: includes and variables */\n"
    assert mark in text
    mine = text.replace(mark, mark + "static int lamps_lit;\n").replace("OFFSET 0", "OFFSET 7")
    picker = page.get_by_label("Your own program file")
    picker.set_input_files({"name": "mine.c", "mimeType": "text/plain", "buffer": mine.encode()})
    expect(page.get_by_text("Taken over from your file: includes and variables.")).to_be_visible(timeout=20000)
    expect(page.get_by_role("alert").first).to_contain_text("not taken over")
    expect(source).to_contain_text("static int lamps_lit;")
    picker.set_input_files({"name": "bad.c", "mimeType": "text/plain", "buffer": mark.encode()})
    expect(page.get_by_role("alert").first).to_contain_text("has no end")


def test_timers_and_window_are_told(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/signals?drive=d1")
    page.get_by_role("tab", name="Timers").click()
    expect(page.locator(".window figcaption")).to_contain_text("All is well from")
    expect(page.get_by_role("row", name="D11 Timer 2")).to_contain_text("Curtain winch: PWM")
    expect(page.get_by_role("row", name="D5 Timer 0")).to_contain_text("kept for the program")
    page.get_by_role("tab", name="Pulses").click()
    strip = page.get_by_role("slider", name="Changing direction")
    strip.focus()
    page.keyboard.press("End")
    expect(page.locator(".strip-words").last).to_contain_text("COIL 2 1")


def test_someone_elses_library_takes_a_timer_away_and_wants_to_be_read(page: Page, puppets: str) -> None:
    page.goto(f"/b/{puppets}/build")
    part = page.get_by_role("region", name="Someone else's code on 8-bit, 16 MHz, three timers")
    part.get_by_role("button", name="Add one more").click()
    part.get_by_label("Library", exact=True).fill("Music")
    part.get_by_label("Timers it takes").fill("Timer 2")
    page.goto(f"/b/{puppets}/signals?drive=d1")
    page.get_by_role("tab", name="Timers").click()
    expect(page.get_by_text("Timer 2, 8 bit is kept for the library Music.")).to_be_visible()
    expect(page.get_by_text("Someone else's code was read line by line").first).to_be_visible()
