"""The page of `arvik check --overview` in a browser: its table, filters, keys, the line that plays,
names for a screen reader, a phone's width, paper. Time is the test's: it hands out the frames.

Usage: check_overview.py SOURCE_DIR ARVIK. Needs Chromium, chromedriver and selenium (Debian).
"""
import base64
import json
import pathlib
import shutil
import subprocess
import sys
import tempfile

from selenium import webdriver
from selenium.webdriver.chrome.service import Service
from selenium.webdriver.common.by import By
from selenium.webdriver.common.keys import Keys
from selenium.webdriver.support.ui import Select

# Frames come when the test says so.
FRAMES = """
window.heldFrames = [];
window.frameTime = 1000;
window.requestAnimationFrame = (run) => { window.heldFrames.push(run); return 1; };
window.passFrame = (milliseconds) => {
  window.frameTime += milliseconds;
  const frames = window.heldFrames;
  window.heldFrames = [];
  for (const run of frames) run(window.frameTime);
};
"""


def open_browser():
    options = webdriver.ChromeOptions()
    for word in ("--headless", "--no-sandbox", "--disable-gpu", "--disable-quic", "--no-first-run",
                 "--disable-background-networking", "--disable-component-update", "--disable-sync",
                 "--window-size=1280,800"):
        options.add_argument(word)
    options.binary_location = shutil.which("chromium")
    browser = webdriver.Chrome(service=Service(shutil.which("chromedriver")), options=options)
    browser.execute_cdp_cmd("Page.addScriptToEvaluateOnNewDocument", {"source": FRAMES})
    return browser


def make_page(root, arvik, folder):
    """The demo with two faults: a text that is missing, a translation that overflows."""
    shutil.copytree(root / "demo", folder / "demo")
    table = folder / "demo/tide_clock.strings.csv"
    text = table.read_text(encoding="utf-8")
    for old, new in (("Ich weiß. Atme.", ""), ("Zegary nie znają imion.", "Zegary nie znają imion. " * 9)):
        assert old in text, old
        text = text.replace(old, new.strip())
    table.write_text(text, encoding="utf-8")
    page = folder / "overview.html"
    run = subprocess.run([arvik, "check", str(folder / "demo/tide_clock.script.json"), "--size", "20",
                          "--width", "560", "--height", "110", "--overview", str(page)],
                         capture_output=True, text=True, check=True)
    assert "missing-text" in run.stdout and "more-pages" in run.stdout, run.stdout
    return page


class Page:
    def __init__(self, browser, path):
        self.browser = browser
        browser.get(path.as_uri())
        self.data = json.loads(browser.find_element(By.ID, "data").get_attribute("textContent"))
        self.lines = {line["k"]: at for at, line in enumerate(self.data["lines"])}

    def find(self, name):
        return self.browser.find_element(By.ID, name)

    def cell(self, key, locale):
        at = self.data["locales"].index(locale)
        return self.browser.find_element(
            By.CSS_SELECTOR, f'#grid button[data-line="{self.lines[key]}"][data-locale="{at}"]')

    def cell_data(self, key, locale):
        return self.data["lines"][self.lines[key]]["cells"][self.data["locales"].index(locale)]

    def shown_rows(self):
        return self.browser.execute_script(
            "return [...document.querySelectorAll('#grid tbody tr')].filter("
            "row => row.querySelector('button') && row.offsetParent !== null).length")

    def shown_steps(self):
        """The steps whose glyphs are seen."""
        return self.browser.execute_script(
            "return [...document.querySelectorAll('#stage svg > *')].filter("
            "mark => mark.style.opacity === '1').length")

    def pass_frames(self, *milliseconds):
        for time in milliseconds:
            self.browser.execute_script("window.passFrame(arguments[0])", time)

    def focused(self):
        return self.browser.switch_to.active_element


def check_table(page):
    locales = page.data["locales"]
    assert locales == ["en", "pl", "de", "ja", "ar"], locales
    assert page.shown_rows() == len(page.data["lines"]) == 46, page.shown_rows()
    assert page.cell("stop_06", "de").get_attribute("aria-label") == "stop_06, de: missing"
    name = page.cell("stop_09", "pl").get_attribute("aria-label")
    assert name.startswith("stop_09, pl: overflows, ") and "pages" in name, name
    rows = page.browser.find_elements(By.CSS_SELECTOR, "#locales tbody tr")
    assert [row.find_element(By.TAG_NAME, "th").text for row in rows][0] == "en (source)"
    assert rows[2].find_elements(By.TAG_NAME, "td")[4].text == "1", rows[2].text
    assert "2 warnings" in page.find("totals").text, page.find("totals").text


def check_filters(page):
    def choose(name, value, wanted):
        Select(page.find(name)).select_by_visible_text(value)
        assert page.shown_rows() == wanted, (name, value, page.shown_rows())

    choose("by-conversation", "harbour", 3)
    choose("by-conversation", "all", 46)
    choose("by-code", "missing", 1)
    choose("by-code", "more-pages", 1)
    assert page.find("count").text == "1 of 46 lines"
    findings = [item for item in page.browser.find_elements(By.CSS_SELECTOR, "#findings li")
                if item.is_displayed()]
    assert len(findings) == 1 and "more-pages" in findings[0].text, [item.text for item in findings]
    choose("by-locale", "de", 0)
    page.browser.find_element(By.CSS_SELECTOR, "#filters [type=reset]").click()
    page.browser.execute_async_script("setTimeout(arguments[0], 0)")
    assert page.shown_rows() == 46
    choose("by-locale", "ja", 46)
    heads = [head for head in page.browser.find_elements(By.CSS_SELECTOR, "#grid thead th")
             if head.is_displayed()]
    assert [head.text for head in heads] == ["Line", "ja"]
    choose("by-locale", "all", 46)
    page.find("by-text").send_keys("breathe")
    assert page.shown_rows() == 1
    page.find("by-text").clear()
    page.find("by-text").send_keys("x", Keys.BACKSPACE)
    choose("by-speaker", "Engine Nine", page.browser.execute_script(
        "return arguments[0].filter(line => line.p === 'engine').length", page.data["lines"]))
    choose("by-speaker", "all", 46)


def check_keys(page):
    first = page.cell("stop_01", "en")
    page.browser.execute_script("arguments[0].focus()", first)
    stops = page.browser.find_elements(By.CSS_SELECTOR, '#grid [tabindex="0"]')
    assert stops == [first], "the tab key comes to the table once"
    page.focused().send_keys(Keys.ARROW_DOWN, Keys.ARROW_DOWN)
    page.focused().send_keys(Keys.ARROW_DOWN)
    page.focused().send_keys(Keys.END)
    assert page.focused() == page.cell("stop_04", "ar")
    page.focused().send_keys(Keys.HOME)
    page.focused().send_keys(Keys.ENTER)
    assert page.find("viewer-title").text == "stop_04, en"
    assert page.focused() == page.find("viewer-title")
    page.find("viewer").find_element(By.CSS_SELECTOR, "#play").send_keys(Keys.ESCAPE)
    assert not page.find("viewer").is_displayed()
    assert page.focused() == page.cell("stop_04", "en")


def check_playing(page):
    """At each moment those glyphs are there whose time has come; a hold waits."""
    cell = page.cell_data("stop_04", "en")
    onsets, sum_ = [], 0
    for later in cell["o"]:
        sum_ += later
        onsets.append(sum_)
    hold_time, hold_step = cell["h_"][:2]
    steps = sorted(cell["g"][3::6])

    def wanted(time, before):
        return sum(1 for step in steps if onsets[step] <= time and step < before)

    page.cell("stop_04", "en").click()
    assert page.shown_steps() == len(steps), "a line that was opened is there as a whole"
    page.find("play").click()
    page.pass_frames(0)
    time = 0
    for later in (1, 50, 400, 777):
        page.pass_frames(later)
        time += later
        assert page.shown_steps() == wanted(time, hold_step), (time, page.shown_steps())
    page.find("play").click()  # pause
    page.pass_frames(5000)
    assert page.shown_steps() == wanted(time, hold_step)
    page.find("play").click()
    page.pass_frames(0, hold_time)
    assert page.find("told").text == "The line holds here."
    assert page.shown_steps() == wanted(hold_time, hold_step)
    page.pass_frames(9000)
    assert page.shown_steps() == wanted(hold_time, hold_step), "a hold waits"
    assert page.focused() == page.find("go-on")
    page.focused().send_keys(Keys.ENTER)
    page.pass_frames(0, cell["d"] - hold_time + 1)
    assert page.shown_steps() == len(steps)
    assert page.find("told").text == "The line is done."
    # The slider goes to any moment; the same line in another locale is one press away.
    page.find("time").send_keys(Keys.HOME)
    assert page.shown_steps() == wanted(0, hold_step)
    page.find("whole").click()
    assert page.shown_steps() == len(steps)
    page.browser.find_element(By.XPATH, "//div[@id='viewer-locales']/button[text()='ja']").click()
    assert page.find("viewer-title").text == "stop_04, ja"
    assert page.find("words").get_attribute("lang") == "ja"


def check_pages(page):
    """A line of several pages shows one at a time, and turns when it is told to go on."""
    cell = page.cell_data("stop_09", "pl")
    assert cell["pages"] >= 2
    on_page = [0] * cell["pages"]
    for page_of in cell["g"][5::6]:
        on_page[page_of] += 1
    page.cell("stop_09", "pl").click()
    assert page.shown_steps() == on_page[-1]
    page.find("play").click()
    page.pass_frames(0, cell["d"])
    assert page.shown_steps() == on_page[0], (page.shown_steps(), on_page)
    page.find("go-on").click()
    assert page.find("go-on").get_attribute("disabled")
    page.pass_frames(0, 1)
    assert page.shown_steps() <= on_page[1]
    assert "more-pages" in page.find("viewer-findings").text


def check_names(page):
    """Every control has a name for those who do not see it."""
    nodes = page.browser.execute_cdp_cmd("Accessibility.getFullAXTree", {})["nodes"]
    controls = [node for node in nodes if not node.get("ignored") and node.get("role", {}).get("value") in
                ("button", "combobox", "slider", "searchbox", "textbox", "link", "img", "image", "form", "region")]
    kinds = {node["role"]["value"] for node in controls}
    assert {"button", "combobox", "slider", "searchbox"} <= kinds, kinds
    nameless = [node for node in controls if not node.get("name", {}).get("value")]
    assert not nameless, nameless[:3]
    assert len(controls) > 46 * 5


def check_screens(page, folder):
    assert page.browser.execute_script("return performance.getEntriesByType('resource').length") == 0
    page.find("close").click()
    page.browser.execute_cdp_cmd("Emulation.setDeviceMetricsOverride",
                                 {"width": 390, "height": 800, "deviceScaleFactor": 1, "mobile": True})
    width = page.browser.execute_script("return document.documentElement.scrollWidth")
    assert width <= 390, width
    page.cell("stop_01", "en").click()
    assert page.find("play").is_displayed()
    page.find("close").click()
    page.browser.execute_cdp_cmd("Emulation.clearDeviceMetricsOverride", {})
    pdf = base64.b64decode(page.browser.execute_cdp_cmd("Page.printToPDF", {"printBackground": False})["data"])
    assert pdf.startswith(b"%PDF") and 1 <= pdf.count(b"/Type /Page\n") + pdf.count(b"/Type /Page ") <= 12, len(pdf)


def main(root, arvik):
    with tempfile.TemporaryDirectory() as name:
        folder = pathlib.Path(name)
        path = make_page(root, arvik, folder)
        browser = open_browser()
        try:
            page = Page(browser, path)
            check_table(page)
            check_filters(page)
            check_keys(page)
            check_playing(page)
            check_pages(page)
            check_names(page)
            check_screens(page, folder)
            logged = [entry for entry in browser.get_log("browser") if entry["level"] == "SEVERE"]
            assert not logged, logged
        finally:
            browser.quit()
    print("the overview does what its readers do")
    return 0


sys.exit(main(pathlib.Path(sys.argv[1]), sys.argv[2]))
