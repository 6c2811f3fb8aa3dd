package org.wirekettle.contract;

import static org.testng.Assert.assertFalse;
import static org.testng.Assert.assertTrue;

import java.nio.charset.StandardCharsets;
import java.nio.file.Files;
import java.nio.file.Path;
import java.util.ArrayList;
import java.util.HashMap;
import java.util.List;
import java.util.Map;
import java.util.Random;
import java.util.Set;
import java.util.regex.Matcher;
import java.util.regex.Pattern;
import org.testng.annotations.Test;
import org.wirekettle.mapping.Examples;
import org.wirekettle.mapping.Fill;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.ShapeRows;
import org.wirekettle.xml.XmlElement;

/**
 * Descriptions of the corpus damaged at random places: each is read or refused in words, and what is offered can be
 * laid out and written.
 */
public class DamagedTest {
    private static final int TIMES = 40;
    private static final Pattern ATTRIBUTE = Pattern.compile("\\s[\\w.:-]+\\s*=\\s*(\"[^\"]*\"|'[^']*')");

    @Test
    public void damageIsNotedOrRefusedAndNothingBreaks() throws Exception {
        Random random = new Random(20311);
        int read = 0;
        int refused = 0;
        try (var files = Files.walk(Path.of("src/test/resources/corpus"))) {
            for (Path file :
                    files.filter(f -> f.toString().endsWith(".wsdl")).sorted().toList()) {
                Map<String, byte[]> all = siblings(file);
                String text = Files.readString(file);
                for (int i = 0; i < TIMES; i++) {
                    String damaged = damage(text, random);
                    all.put(file.getFileName().toString(), damaged.getBytes(StandardCharsets.UTF_8));
                    try {
                        use(WsdlReader.read(file.getFileName().toString(), Documents.of(new HashMap<>(all))));
                        read++;
                    } catch (Refused e) {
                        assertFalse(e.getMessage().isBlank());
                        refused++;
                    } catch (RuntimeException | Error e) {
                        throw new AssertionError(file + ", round " + i + ":\n" + damaged, e);
                    }
                }
            }
        }
        assertTrue(read > 5 * refused, read + " read, " + refused + " refused");
    }

    private static Map<String, byte[]> siblings(Path file) throws Exception {
        Map<String, byte[]> out = new HashMap<>();
        try (var files = Files.walk(file.getParent())) {
            for (Path f : files.filter(Files::isRegularFile).toList()) {
                out.put(file.getParent().relativize(f).toString(), Files.readAllBytes(f));
            }
        }
        return out;
    }

    private static void use(Contract c) {
        for (Contract.Port p : c.ports()) {
            for (Operation o : p.operations()) {
                if (o.isUsable()) {
                    ShapeRows.of(o.request().root(), Map.of(), Set.of());
                    Fill.compile(
                            Examples.of(o.request().root(), true), o.request().root(), null);
                }
            }
        }
        Comparison.of(c, c);
    }

    /** Takes an element or an attribute away, says an element twice, or gives an attribute another value. */
    private static String damage(String text, Random random) {
        List<XmlElement> elements = new ArrayList<>();
        try {
            XmlElement.parse("corpus", text).walk(elements::add);
        } catch (Refused e) {
            int at = random.nextInt(text.length() - 20);
            return text.substring(0, at) + text.substring(at + 1 + random.nextInt(10));
        }
        XmlElement e = elements.get(1 + random.nextInt(elements.size() - 1));
        String own = text.substring(e.start(), e.end());
        String instead =
                switch (random.nextInt(4)) {
                    case 0 -> "";
                    case 1 -> own + own;
                    default -> {
                        int end = own.indexOf('>');
                        Matcher m = ATTRIBUTE.matcher(own.substring(0, end));
                        List<int[]> found = new ArrayList<>();
                        while (m.find()) {
                            found.add(new int[] {m.start(), m.end(), m.start(1)});
                        }
                        if (found.isEmpty()) {
                            yield "";
                        }
                        int[] a = found.get(random.nextInt(found.size()));
                        yield random.nextBoolean()
                                ? own.substring(0, a[0]) + own.substring(a[1])
                                : own.substring(0, a[2]) + "\"odd:nonsense\"" + own.substring(a[1]);
                    }
                };
        return text.substring(0, e.start()) + instead + text.substring(e.end());
    }
}
