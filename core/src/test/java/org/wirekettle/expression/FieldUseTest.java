package org.wirekettle.expression;

import static org.testng.Assert.assertEquals;

import java.util.List;
import java.util.Map;
import java.util.Set;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;

public final class FieldUseTest {
    private static final Map<String, Set<String>> KNOWN =
            Map.of(".", Set.of("vessel", "draft_m"), "berth", Set.of("free", "quay.name"));

    @DataProvider
    Object[][] expressions() {
        return new Object[][] {
            {"vessel", List.of()},
            {"./vessel", List.of()},
            {" vesel ", List.of(".vesel")},
            {"vesel/name[1]/@x", List.of(".vesel")},
            {"draft_m + vesel", List.of(".vesel")},
            {"if (draft_m > 9) then 'deep' else upper-case(vesel)", List.of(".vesel")},
            {"vessel != '' and draft_m castable as xs:decimal", List.of()},
            {"vessel[name = 'x']", List.of()},
            {"vessel/name = 'x' or draft_m = 1e3", List.of()},
            {"vessel ! name", List.of()},
            {"tokenize(vessel, ',')[2]", List.of()},
            {"$berth/free", List.of()},
            {"$berth/quay.name", List.of()},
            {"$berth/quay", List.of("berthquay")},
            {"$berth[1]/fre", List.of("berthfre")},
            {"if ($berth/fre > 0) then $berth/free else $berth/fre", List.of("berthfre")},
            {"concat('$berth/fre', \"$berth/fre\")", List.of()},
            {"(: $berth/fre :) 1", List.of()},
            {"$berth/string(.)", List.of()},
            {"$berth/node()", List.of()},
            {"$berth/@fre", List.of()},
            {"$berth/*", List.of()},
            {"$berth/..", List.of()},
            {"$berth/x:fre", List.of()},
            {"$other/fre", List.of()},
            {"true()", List.of()},
            {"5", List.of()},
            {"'vesel'", List.of()},
            {"..", List.of()},
            {"@vesel", List.of()},
            {"wk:hash(vesel)", List.of(".vesel")},
            {"draft_m - 1", List.of()},
            {"draft_m-1", List.of(".draft_m-1")},
            {"for $x in $berth return $x/fre", List.of()}
        };
    }

    @Test(dataProvider = "expressions")
    public void fieldsThatAreNotThereAreNoticed(String source, List<String> expected) {
        assertEquals(
                FieldUse.unknown(source, KNOWN).stream()
                        .map(u -> u.name() + u.field())
                        .toList(),
                expected,
                source);
    }
}
