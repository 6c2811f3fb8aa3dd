package org.wirekettle.e2e;

import java.io.IOException;
import java.nio.file.Files;
import java.nio.file.Path;
import java.time.Duration;
import java.util.List;
import org.openqa.selenium.By;
import org.openqa.selenium.Dimension;
import org.openqa.selenium.JavascriptExecutor;
import org.openqa.selenium.Keys;
import org.openqa.selenium.OutputType;
import org.openqa.selenium.StaleElementReferenceException;
import org.openqa.selenium.WebElement;
import org.openqa.selenium.chrome.ChromeDriver;
import org.openqa.selenium.chrome.ChromeDriverService;
import org.openqa.selenium.chrome.ChromeOptions;
import org.openqa.selenium.support.ui.WebDriverWait;
import org.testng.ITestResult;

/** A user at the page: finds things by what they say, and waits for them as a user would. Counts its clicks. */
final class Browser implements AutoCloseable {
    private static final Duration PATIENCE = Duration.ofSeconds(15);
    private final ChromeDriver driver;
    private int clicks;
    private int typed;

    Browser() throws Exception {
        Path profile = Files.createTempDirectory(Path.of(WireKettle.env("WK_TEST_WORK")), "browser");
        ChromeOptions o = new ChromeOptions();
        o.setBinary("/usr/bin/chromium");
        o.addArguments(
                "--headless=new",
                "--no-sandbox",
                "--disable-gpu",
                "--disable-quic",
                "--no-first-run",
                "--disable-background-networking",
                "--disable-component-update",
                "--disable-sync",
                "--disable-dev-shm-usage",
                "--window-size=1280,800",
                "--user-data-dir=" + profile);
        driver = new ChromeDriver(
                new ChromeDriverService.Builder()
                        .usingDriverExecutable(new java.io.File("/usr/bin/chromedriver"))
                        .build(),
                o);
        size(1280, 900);
    }

    /** Of the window. */
    void size(int width, int height) {
        driver.manage().window().setSize(new Dimension(width, height));
    }

    void go(String url) {
        driver.get(url);
    }

    /** Opens the pages and logs in as the administrator. */
    void logIn(WireKettle wk) {
        go(wk.url());
        type("#name", "admin");
        type("#password", WireKettle.ADMIN_PASSWORD, Keys.ENTER);
        find("nav a.on");
    }

    private static By by(String what) {
        return what.startsWith("//") || what.startsWith("(") ? By.xpath(what) : By.cssSelector(what);
    }

    WebElement find(String what) {
        try {
            return new WebDriverWait(driver, PATIENCE)
                    .ignoring(StaleElementReferenceException.class)
                    .until(d -> d.findElements(by(what)).stream()
                            .filter(WebElement::isDisplayed)
                            .findFirst()
                            .orElse(null));
        } catch (org.openqa.selenium.TimeoutException e) {
            throw new AssertionError(
                    "not on the page: " + what + "\nThe page says:\n"
                            + driver.findElement(By.tagName("body")).getText(),
                    e);
        }
    }

    /** Waits until nothing of it is on the page. */
    void gone(String what) {
        try {
            new WebDriverWait(driver, PATIENCE)
                    .ignoring(StaleElementReferenceException.class)
                    .until(d -> d.findElements(by(what)).stream().noneMatch(WebElement::isDisplayed));
        } catch (org.openqa.selenium.TimeoutException e) {
            throw new AssertionError("still on the page: " + what, e);
        }
    }

    List<WebElement> all(String what) {
        return driver.findElements(by(what));
    }

    /** Waits for a text anywhere on the page. */
    void says(String text) {
        find("//*[not(self::script) and contains(normalize-space(.), \"" + text
                + "\") and not(*[contains(normalize-space(.), \"" + text + "\")])]");
    }

    void click(String what) {
        clicks++;
        new WebDriverWait(driver, PATIENCE)
                .ignoring(
                        StaleElementReferenceException.class,
                        org.openqa.selenium.ElementClickInterceptedException.class)
                .until(d -> {
                    find(what).click();
                    return true;
                });
    }

    void button(String text) {
        click("//button[not(@disabled) and contains(normalize-space(.), \"" + text + "\")]");
    }

    /** Types into a field; each field typed into is counted. */
    void type(String what, CharSequence... keys) {
        typed++;
        new WebDriverWait(driver, PATIENCE)
                .ignoring(StaleElementReferenceException.class)
                .until(d -> {
                    find(what).sendKeys(keys);
                    return true;
                });
    }

    void field(String label, String text) {
        type("[aria-label=\"" + label + "\"]", text);
    }

    void replace(String what, String text) {
        type(what, Keys.chord(Keys.CONTROL, "a"), text);
    }

    void keys(CharSequence... keys) {
        driver.switchTo().activeElement().sendKeys(keys);
    }

    /** Chooses from an Ant Design select by its label. */
    void choose(String label, String option) {
        click("//*[@aria-label=\"" + label + "\"]/ancestor-or-self::*[contains(@class,'ant-select')][1]");
        click("//*[contains(@class,'ant-select-item-option-content') and normalize-space(.) = \"" + option + "\"]");
    }

    /** Drags with real drag events, as the mouse makes them. */
    void drag(String from, String to) {
        clicks++;
        ((JavascriptExecutor) driver).executeScript("""
            const data = new DataTransfer();
            const fire = (e, kind) => e.dispatchEvent(new DragEvent(kind, { bubbles: true, cancelable: true,
            dataTransfer: data }));
            fire(arguments[0], 'dragstart'); fire(arguments[1], 'dragover'); fire(arguments[1], 'drop');\
            """, find(from), find(to));
    }

    /** Puts a file into a chooser, shown or not. */
    void upload(String label, Path file) {
        clicks++;
        new WebDriverWait(driver, PATIENCE)
                .until(d -> d.findElement(By.cssSelector("input[type=file][aria-label=\"" + label + "\"]")))
                .sendKeys(file.toString());
    }

    int clicks() {
        return clicks;
    }

    int typed() {
        return typed;
    }

    /** Brings a library into the page, which the page's own rules would not let in. */
    void load(String script) {
        ((JavascriptExecutor) driver).executeScript(script);
    }

    /** Runs a script in the page. @return what it gives, or resolves to */
    Object run(String script, Object... arguments) {
        driver.manage().timeouts().scriptTimeout(PATIENCE);
        return ((JavascriptExecutor) driver)
                .executeAsyncScript(
                        "const done = arguments[arguments.length - 1];" + "Promise.resolve((() => {" + script
                                + "})()).then(done, e => done('failed: ' + e));",
                        arguments);
    }

    String text(String what) {
        return new WebDriverWait(driver, PATIENCE)
                .ignoring(StaleElementReferenceException.class)
                .until(d -> find(what).getText());
    }

    String url() {
        return driver.getCurrentUrl();
    }

    /** Ends with a test; of one that failed a picture is kept beside the reports. */
    void close(ITestResult result) throws IOException {
        if (!result.isSuccess()) {
            Path file = WireKettle.root()
                    .resolve("e2e/target/failures/"
                            + result.getTestClass().getRealClass().getSimpleName() + "." + result.getName() + ".png");
            Files.createDirectories(file.getParent());
            Files.write(file, driver.getScreenshotAs(OutputType.BYTES));
        }
        close();
    }

    @Override
    public void close() {
        driver.quit();
    }
}
