package org.wirekettle.e2e;

import org.openqa.selenium.Keys;

/** Base of tests that fill a manifest in the browser: what is done in each of them. */
abstract class ManifestPageTest extends BrowserTest {
    private static final String VALUE = "[data-path='FileManifest/%s'] > :nth-child(5)";

    protected void fill(String row, String value) {
        b.click(String.format(VALUE, row));
        b.keys(value, Keys.ENTER);
    }

    /** Each line of cargo is bulk, or in a container. */
    protected void kindsByRule() {
        b.choose("kind of cargo", "by a rule…");
        b.replace("[aria-label='condition of Bulk']", "stow = 'loose'");
        b.button("Add a kind");
        b.click("(//div[contains(@class, 'ant-popover')]//*[@aria-label='kind of cargo']"
                + "/ancestor::*[contains(@class, 'ant-select')][1])[2]");
        b.click("//*[contains(@class, 'ant-select-item-option') and @title='Container']");
        b.keys(Keys.ESCAPE);
    }

    protected void inAList() {
        fill("@priority", "wk:if-empty(urgency, 'ST')");
        b.click("[data-path='FileManifest/@priority'] .mark");
        b.click("[aria-label='list of priority']");
        b.click("//div[contains(@class, 'ant-popover')]//label[contains(., 'written here')]");
        b.type("[aria-label='entries of the list']", "KX = perishable\nST = usual");
        b.find("[data-path='FileManifest/@priority'] [title='perishable']");
        b.keys(Keys.ESCAPE);
    }

    protected void fillTheRest() {
        fill("sailed", "wk:date(left_last, 'dd.MM.yyyy')");
        fill("cargo/@line", "no");
        fill("cargo/description", "goods");
        fill("cargo/tonnes", "wk:number(weight, ',')");
        fill("cargo/hold", "hold");
        fill("cargo/number", "box");
    }
}
