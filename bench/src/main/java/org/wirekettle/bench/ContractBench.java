package org.wirekettle.bench;

import java.io.StringReader;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.Collections;
import java.util.List;
import java.util.Map;
import java.util.Set;
import java.util.function.Supplier;
import javax.xml.transform.stream.StreamSource;
import org.apache.xerces.jaxp.validation.XMLSchemaFactory;
import org.wirekettle.contract.Comparison;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.Operation;
import org.wirekettle.contract.WsdlReader;
import org.wirekettle.mapping.Examples;
import org.wirekettle.shape.ShapeRows;

/**
 * Reading large contracts: import, opening the largest operation, an example with everything, comparing two versions;
 * against the schema compiler alone over the same schema in the same run. The contract is of one base type with
 * thousands of derived ones that refer to each other.
 */
public final class ContractBench {
    private static final int ROUNDS = 9;

    private ContractBench() {}

    public static void main(String[] args) throws Exception {
        System.out.printf(
                "%8s %7s %7s | %9s %9s %6s | %9s %9s %9s | %s%n",
                "schema",
                "types",
                "ops",
                "compiler",
                "import",
                "ratio",
                "open",
                "example",
                "compare",
                "heap for each MB of schema");
        for (int types : new int[] {1_500, 3_000, 6_000}) {
            row(types);
        }
    }

    private static void row(int types) throws Exception {
        String schema = schema(types, false);
        byte[] wsdl = wsdl(schema, types).getBytes(StandardCharsets.UTF_8);
        byte[] next = wsdl(schema(types, true), types).getBytes(StandardCharsets.UTF_8);
        double mb = wsdl.length / 1e6;
        double compiler = median(() -> compile(schema));
        double read = median(() -> read(wsdl));
        long before = used();
        Contract c = read(wsdl);
        double heap = (used() - before) / 1e6 / mb;
        Operation largest = c.ports().get(0).operations().get(0);
        double open = median(() -> ShapeRows.of(largest.request().root(), Map.of(), Set.of()));
        double example = median(() -> Examples.of(largest.request().root(), true));
        Contract changed = read(next);
        double compare = median(() -> Comparison.of(c, changed));
        System.out.printf(
                "%5.1f MB %7d %7d | %6.0f ms %6.0f ms %6.2f | %6.0f ms %6.0f ms %6.0f ms | %.1f MB%n",
                mb,
                types,
                c.ports().get(0).operations().size(),
                compiler,
                read,
                read / compiler,
                open,
                example,
                compare,
                heap);
    }

    private static double median(Supplier<Object> work) {
        List<Double> times = new ArrayList<>();
        for (int i = 0; i < ROUNDS; i++) {
            long start = System.nanoTime();
            work.get();
            times.add((System.nanoTime() - start) / 1e6);
        }
        Collections.sort(times);
        return times.get(ROUNDS / 2);
    }

    private static long used() throws InterruptedException {
        for (int i = 0; i < 3; i++) {
            System.gc();
            Thread.sleep(50);
        }
        return Runtime.getRuntime().totalMemory() - Runtime.getRuntime().freeMemory();
    }

    private static Object compile(String schema) {
        try {
            return new XMLSchemaFactory().newSchema(new StreamSource(new StringReader(schema)));
        } catch (org.xml.sax.SAXException e) {
            throw new IllegalStateException(e);
        }
    }

    private static Contract read(byte[] wsdl) {
        return WsdlReader.read("large.wsdl", Documents.of(Map.of("large.wsdl", wsdl)));
    }

    /** @param changed with a field more in every tenth type */
    private static String schema(int types, boolean changed) {
        StringBuilder out =
                new StringBuilder("<xs:schema xmlns:xs=\"http://www.w3.org/2001/XMLSchema\" xmlns:t=\"urn:large\""
                        + " targetNamespace=\"urn:large\" elementFormDefault=\"qualified\">\n"
                        + "<xs:complexType name=\"Thing\"><xs:sequence><xs:element name=\"id\" type=\"xs:string\""
                        + " minOccurs=\"0\"/></xs:sequence></xs:complexType>\n");
        for (int i = 0; i < types; i++) {
            out.append("<xs:complexType name=\"Kind")
                    .append(i)
                    .append("\"><xs:annotation><xs:documentation>What the harbour knows of kind ")
                    .append(i)
                    .append(", field by field.</xs:documentation></xs:annotation><xs:complexContent><xs:extension"
                            + " base=\"t:")
                    .append(i % 50 == 0 || i < 50 ? "Thing" : "Kind" + (i - i % 50))
                    .append("\"><xs:sequence>\n");
            for (int f = 0; f < 4; f++) {
                out.append("  <xs:element name=\"field")
                        .append(f)
                        .append("Of")
                        .append(i)
                        .append("\" type=\"")
                        .append(
                                f == 3
                                        ? "t:Kind" + (i * 7 + 11) % types
                                        : f == 2 ? "t:Thing" : f == 1 ? "xs:dateTime" : "xs:int")
                        .append("\" minOccurs=\"0\" maxOccurs=\"")
                        .append(f == 3 ? "unbounded" : "1")
                        .append("\"/>\n");
            }
            out.append(changed && i % 10 == 0 ? "  <xs:element name=\"more" + i + "\" type=\"xs:string\"/>\n" : "")
                    .append("</xs:sequence></xs:extension></xs:complexContent></xs:complexType>\n");
        }
        out.append("<xs:element name=\"Everything\"><xs:complexType><xs:sequence>\n");
        for (int i = 0; i < 400; i++) {
            out.append("<xs:element name=\"part")
                    .append(i)
                    .append("\" type=\"t:Kind")
                    .append(i * types / 400)
                    .append("\"/>\n");
        }
        out.append("</xs:sequence></xs:complexType></xs:element>\n");
        for (int i = 0; i < types / 10; i++) {
            out.append("<xs:element name=\"Ask")
                    .append(i)
                    .append("\" type=\"t:Kind")
                    .append(i)
                    .append("\"/>\n");
        }
        return out.append("</xs:schema>").toString();
    }

    private static String wsdl(String schema, int types) {
        StringBuilder messages = new StringBuilder();
        StringBuilder operations = new StringBuilder();
        StringBuilder bound = new StringBuilder();
        for (int i = -1; i < types / 10; i++) {
            String name = i < 0 ? "Everything" : "Ask" + i;
            messages.append("<message name=\"")
                    .append(name)
                    .append("\"><part name=\"body\" element=\"t:")
                    .append(name)
                    .append("\"/></message>\n");
            operations
                    .append("<operation name=\"")
                    .append(name)
                    .append("\"><input message=\"t:")
                    .append(name)
                    .append("\"/><output message=\"t:")
                    .append(name)
                    .append("\"/></operation>\n");
            bound.append("<operation name=\"")
                    .append(name)
                    .append("\"><soap:operation soapAction=\"")
                    .append(name)
                    .append("\"/><input><soap:body use=\"literal\"/></input><output><soap:body"
                            + " use=\"literal\"/></output></operation>\n");
        }
        return "<definitions name=\"Large\" targetNamespace=\"urn:large\" xmlns=\"http://schemas.xmlsoap.org/wsdl/\""
                + " xmlns:soap=\"http://schemas.xmlsoap.org/wsdl/soap/\" xmlns:t=\"urn:large\"><types>"
                + schema + "</types>\n" + messages
                + "<portType name=\"P\">" + operations
                + "</portType>\n"
                + "<binding name=\"B\" type=\"t:P\"><soap:binding transport=\"http://schemas.xmlsoap.org/soap/http\"/>"
                + bound
                + "</binding>\n"
                + "<service name=\"S\"><port name=\"Port\" binding=\"t:B\"><soap:address"
                + " location=\"http://tides.example.net/\"/></port></service></definitions>";
    }
}
