package org.wirekettle.call;

import static org.testng.Assert.assertEquals;

import java.util.List;
import org.testng.annotations.Test;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.mapping.SecretValues;
import org.wirekettle.shape.Shape;

/** Which rules of a connection stand beside those of a call. */
public class ConnectionHeadersTest {
    private static final Shape REQUEST = Shape.element("request")
            .children(() -> List.of(
                    Shape.element("Session").role(Shape.Role.HEADER).build(),
                    Shape.element("Ask").build()))
            .build();

    private static String beside(List<Rule> given, Rule... own) {
        return new ConnectionHeaders(given, null, SecretValues.NONE, List.of())
                .beside(List.of(own), REQUEST).stream()
                        .map(r -> r.path() + "=" + r.text())
                        .toList()
                        .toString();
    }

    @Test
    public void aCallSaysARowOtherwiseAndOthersStay() {
        List<Rule> given = List.of(
                Rule.text("header:Session/token", "t"),
                Rule.text("header:Session/agency", "a"),
                Rule.text("header:Other/x", "o"),
                Rule.text("Ask/port", "never: it is none of a header"));
        assertEquals(beside(given), "[header:Session/token=t, header:Session/agency=a]");
        assertEquals(
                beside(given, Rule.text("header:Session/agency", "mine")),
                "[header:Session/agency=mine, header:Session/token=t]");
        assertEquals(beside(List.of(), Rule.text("Ask/port", "p")), "[Ask/port=p]");
    }
}
