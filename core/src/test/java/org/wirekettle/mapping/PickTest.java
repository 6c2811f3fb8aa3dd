package org.wirekettle.mapping;

import static org.testng.Assert.assertEquals;

import java.util.List;
import org.testng.annotations.Test;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Pick.Column;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;
import org.wirekettle.record.NodeXml;

/** Result records picked out of answers. */
public class PickTest {
    private static final Expressions EXPRESSIONS = new Expressions();

    private static Pick.Picked pick(String each, Column... columns) throws Exception {
        Node reply = NodeXml.read("<Reply xmlns='urn:r'><window"
                + " ref='W1'><opens>2031-04-02T21:55:00</opens><slot><berth>E4</berth></slot><slot><berth>"
                + "E7</berth></slot></window></Reply>");
        Pick p = Pick.compile(new Pick.Definition(each, List.of(columns)), EXPRESSIONS);
        assertEquals(p.problems(), List.of());
        return p.run(Scope.of(NodeXml.read("<record><ref>TR-1</ref></record>")).with("reply", reply));
    }

    private static List<String> rows(Pick.Picked p) {
        return p.records().stream().map(NodeXml::write).toList();
    }

    @Test
    public void theWholeAnswerIsOneRecord() throws Exception {
        assertEquals(
                rows(pick(
                        null,
                        new Column("opens", "$reply/window/opens", null, "dateTime"),
                        new Column("kind", null, "tide", null))),
                List.of("<row><opens>2031-04-02T21:55:00</opens><kind>tide</kind></row>"));
    }

    @Test
    public void eachRepeatingElementIsOneWithOuterFieldsRepeatedAndSourceFieldsCarried() throws Exception {
        assertEquals(
                rows(pick(
                        "$reply/window/slot",
                        new Column("call", "$record/ref", null, null),
                        new Column("window", "../@ref", null, null),
                        new Column("berth", "berth", null, null))),
                List.of(
                        "<row><call>TR-1</call><window>W1</window><berth>E4</berth></row>",
                        "<row><call>TR-1</call><window>W1</window><berth>E7</berth></row>"));
        assertEquals(
                rows(pick(
                        "$reply//slot[berth != 'E4']",
                        new Column("berth", "berth", null, null),
                        new Column("of", "count(../slot)", null, "integer"))),
                List.of("<row><berth>E7</berth><of>2</of></row>"),
                "nodes found by the engine know their surroundings");
    }

    @Test
    public void aValueOfTheWrongTypeIsNamed() throws Exception {
        assertEquals(
                pick(null, new Column("n", "$reply/window/slot[1]/berth", null, "integer"))
                        .problems(),
                List.of(Problem.ofRow("row/n", "value", "“E4” is not an integer")));
    }

    @Test
    public void labelsThatAreNoNamesAreEscaped() throws Exception {
        assertEquals(
                rows(pick(null, new Column("Call Ref", "$record/ref", null, null))),
                List.of("<row><Call_x0020_Ref>TR-1</Call_x0020_Ref></row>"));
    }
}
