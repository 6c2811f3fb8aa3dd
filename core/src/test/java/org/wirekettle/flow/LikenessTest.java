package org.wirekettle.flow;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNotEquals;

import java.util.List;
import org.testng.annotations.Test;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** When a row is the one that was written before, and when it is as it was. */
public class LikenessTest {
    private static Likeness of(String row, List<String> keys, String... ignoring) throws Exception {
        return Likeness.of(NodeXml.read(row), new WriteStep.UnlessEqual(keys, List.of(ignoring)));
    }

    @Test
    public void aRowIsKnownByItsKeysAndEqualByAllElse() throws Exception {
        Likeness a = of("<r no='1'><port>A</port><depth>7</depth></r>", List.of("port"));
        assertEquals(of("<r no='1'><port>A</port><depth>7</depth></r>", List.of("port")), a);
        Likeness deeper = of("<r no='1'><port>A</port><depth>8</depth></r>", List.of("port"));
        assertEquals(deeper.key(), a.key());
        assertNotEquals(deeper.content(), a.content());
        assertNotEquals(
                of("<r no='1'><port>B</port><depth>7</depth></r>", List.of("port"))
                        .key(),
                a.key());
        assertNotEquals(
                of("<r no='2'><port>A</port></r>", List.of("@no")).key(),
                of("<r no='1'><port>A</port></r>", List.of("@no")).key());
    }

    @Test
    public void whatDoesNotCountMayBeAnything() throws Exception {
        Likeness a = of("<r at='1'><port>A</port><seen>1</seen></r>", List.of("port"), "seen", "@at");
        assertEquals(of("<r at='2'><port>A</port><seen>2</seen></r>", List.of("port"), "seen", "@at"), a);
        assertNotEquals(of("<r at='2'><port>A</port><seen>2</seen></r>", List.of("port"), "seen"), a);
    }

    @Test
    public void valuesOfSeveralKeysDoNotRunIntoEachOther() throws Exception {
        List<String> both = List.of("a", "b");
        assertNotEquals(
                of("<r><a>1 2</a><b>3</b></r>", both).key(),
                of("<r><a>1</a><b>2 3</b></r>", both).key());
        assertNotEquals(
                of("<r><a/><b>3</b></r>", both).key(),
                of("<r><b>3</b></r>", both).key());
    }

    @Test
    public void looksOnlyAtARow() {
        Node row = new Node("", "r").add(Node.leaf("a", "1")).add(Node.leaf("t", "2"));
        Likeness.of(row, new WriteStep.UnlessEqual(List.of("a"), List.of("t")));
        assertEquals(row.children().size(), 2);
    }
}
