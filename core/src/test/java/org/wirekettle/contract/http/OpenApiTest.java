package org.wirekettle.contract.http;

import static org.testng.Assert.assertEquals;
import static org.testng.Assert.assertNull;
import static org.testng.Assert.assertThrows;
import static org.testng.Assert.assertTrue;
import static org.testng.Assert.expectThrows;

import java.io.IOException;
import java.nio.charset.StandardCharsets;
import java.util.ArrayList;
import java.util.HashSet;
import java.util.LinkedHashMap;
import java.util.List;
import java.util.Map;
import java.util.stream.Collectors;
import java.util.stream.Stream;
import org.testng.annotations.DataProvider;
import org.testng.annotations.Test;
import org.wirekettle.contract.Comparison;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.DescriptionReader;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.Operation;
import org.wirekettle.http.HttpMessage;
import org.wirekettle.http.HttpReadBack;
import org.wirekettle.http.HttpRequests;
import org.wirekettle.http.NotWritable;
import org.wirekettle.mapping.Fill;
import org.wirekettle.problem.Problem;
import org.wirekettle.problem.Refused;
import org.wirekettle.shape.Shape;
import org.wirekettle.shape.ShapeRows;

/** Descriptions of HTTP services in their several forms: read the same, repaired and noted, or refused in words. */
public class OpenApiTest {
    private static Contract read(String... namesAndTexts) {
        Map<String, byte[]> files = new LinkedHashMap<>();
        for (int i = 0; i < namesAndTexts.length; i += 2) {
            files.put(namesAndTexts[i], namesAndTexts[i + 1].getBytes(StandardCharsets.UTF_8));
        }
        return DescriptionReader.read(namesAndTexts[0], Documents.of(files));
    }

    private static String rows(Shape s) {
        return String.join(
                "\n",
                ShapeRows.of(s, Map.of(), new HashSet<>()).stream()
                        .map(r -> Stream.of(
                                        r.path(),
                                        r.occurrences().occurs(),
                                        r.occurrences().nillable() ? "nil" : null,
                                        r.value().type(),
                                        r.value().limits())
                                .filter(x -> x != null && !x.isEmpty())
                                .collect(Collectors.joining(" ")))
                        .toList());
    }

    private static final String SWAGGER = """
            {"swagger": "2.0", "info": {"title": "Tugs", "version": "1"}, "host": "tugs.example", "basePath": "/v2",
             "schemes": ["https"], "consumes": ["application/json"], "produces": ["application/json"],
             "securityDefinitions": {"b": {"type": "basic"}, "k": {"type": "apiKey", "in": "header", "name": "X-Key"}},
             "security": [{"b": []}],
             "parameters": {"no": {"name": "no", "in": "path", "required": true, "type": "string", "maxLength": 7}},
             "paths": {"/tugs/{no}": {
               "parameters": [{"$ref": "#/parameters/no"}],
               "put": {"operationId": "order", "parameters": [
                 {"name": "ids", "in": "query", "type": "array", "items": {"type": "integer"}, "collectionFormat": "pipes"},
                 {"name": "body", "in": "body", "required": true, "schema": {"$ref": "#/definitions/Order"}}],
                "responses": {"200": {"description": "ok", "schema": {"$ref": "#/definitions/Order"}}}},
               "post": {"operationId": "upload", "consumes": ["multipart/form-data"], "parameters": [
                 {"name": "scan", "in": "formData", "type": "file", "required": true},
                 {"name": "note", "in": "formData", "type": "string"}],
                "responses": {"204": {"description": "kept"}}}}},
             "definitions": {"Order": {"type": "object", "required": ["at"], "properties": {
               "at": {"type": "string", "format": "date-time"},
               "pull": {"type": "number", "minimum": 0, "exclusiveMinimum": true, "maximum": 90},
               "next": {"$ref": "#/definitions/Order"}}}}}
            """;

    private static final String THREE = """
            openapi: 3.0.3
            info: {title: Tugs, version: '1'}
            servers: [{url: 'https://tugs.example/v2'}]
            security: [{b: []}]
            paths:
              /tugs/{no}:
                parameters: [{$ref: '#/components/parameters/no'}]
                put:
                  operationId: order
                  parameters:
                    - {name: ids, in: query, style: pipeDelimited, explode: false,
                       schema: {type: array, items: {type: integer}}}
                  requestBody:
                    required: true
                    content: {application/json: {schema: {$ref: '#/components/schemas/Order'}}}
                  responses:
                    '200': {description: ok, content: {application/json: {schema: {$ref: '#/components/schemas/Order'}}}}
                post:
                  operationId: upload
                  requestBody:
                    required: true
                    content:
                      multipart/form-data:
                        schema: {type: object, required: [scan], properties: {scan: {type: string, format: binary},
                          note: {type: string}}}
                  responses: {'204': {description: kept}}
            components:
              securitySchemes: {b: {type: http, scheme: basic}, k: {type: apiKey, in: header, name: X-Key}}
              parameters: {no: {name: no, in: path, required: true, schema: {type: string, maxLength: 7}}}
              schemas:
                Order:
                  type: object
                  required: [at]
                  properties:
                    at: {type: string, format: date-time}
                    pull: {type: number, minimum: 0, exclusiveMinimum: true, maximum: 90}
                    next: {$ref: '#/components/schemas/Order'}
            """;

    @Test
    public void theSameSaidInTwoVersionsIsReadTheSame() {
        Contract two = read("tugs.json", SWAGGER);
        Contract three = read("tugs.yaml", THREE);
        assertEquals(two.notes().toString(), "[]");
        assertEquals(three.notes().toString(), "[]");
        assertEquals(Comparison.of(two, three).changes().toString(), "[]");
        assertEquals(two.port("HTTP").orElseThrow().address(), "https://tugs.example/v2");
        Operation order = two.port("HTTP").orElseThrow().operation("order").orElseThrow();
        assertEquals(rows(order.request().root()), """
                path 1
                path/no 1 string at most 7 characters
                query 0..1
                query/ids 0..n integer
                body 1 Order
                body/at 1 dateTime
                body/pull 0..1 decimal at most 90; more than 0
                body/next 0..1 Order""".replace("at most 90; more than 0", limits(order)));
        assertEquals(
                two.port("HTTP").orElseThrow().requirements().stream()
                        .map(r -> r.setting() + " " + r.isOptional())
                        .toList(),
                List.of("basic false", "header-key:X-Key true"));
        assertTrue(rows(two.port("HTTP")
                        .orElseThrow()
                        .operation("upload")
                        .orElseThrow()
                        .request()
                        .root())
                .contains("body/scan 1 base64Binary"));
    }

    /** However both are put into words, both have to be there. */
    private static String limits(Operation o) {
        String all = ShapeRows.of(o.request().root(), Map.of(), new HashSet<>()).stream()
                .filter(r -> r.path().equals("body/pull"))
                .findFirst()
                .orElseThrow()
                .value()
                .limits();
        assertTrue(all.contains("90") && all.contains("more than 0"), all);
        return all;
    }

    @Test
    public void manyFilesAreOneAndNothingIsFetchedLater() {
        String root = """
                openapi: 3.1.0
                info: {title: T}
                servers: [{url: 'http://h/'}]
                paths:
                  /a: {$ref: 'paths/a.yaml'}
                """;
        String a = """
                get:
                  responses:
                    '200': {description: ok, content: {application/json: {schema: {$ref: '../types.json#/Ship'}}}}
                """;
        String types =
                "{\"Ship\": {\"type\": \"object\", \"properties\": {\"no\": {\"$ref\": \"#/No\"}}}, \"No\": {\"type\":"
                        + " \"integer\", \"format\": \"int32\"}}";
        Contract c = read("api.yaml", root, "paths/a.yaml", a, "types.json", types);
        assertEquals(c.notes(), List.of());
        assertEquals(
                c.documents().stream().map(Contract.Document::uri).toList(),
                List.of("api.yaml", "paths/a.yaml", "types.json"));
        assertEquals(rows(c.ports().get(0).operations().get(0).answer().root()), """
                json 1 Ship
                json/@status 0..1 int
                json/no 0..1 No, int""");
        List<String> asked = new ArrayList<>();
        Contract missing = DescriptionReader.read("api.yaml", new Documents(uri -> {
            asked.add(uri);
            if (uri.equals("api.yaml")) {
                return root.getBytes(StandardCharsets.UTF_8);
            }
            throw new IOException("it is away");
        }));
        int before = asked.size();
        missing.ports().forEach(p -> p.operations().forEach(o -> rows(o.answer().root())));
        assertEquals(asked.size(), before, "fetched later: " + asked);
        assertTrue(missing.notes().stream()
                .anyMatch(n -> n.text().contains("paths/a.yaml, which cannot be had: it is away")));
    }

    @Test
    public void whatIsSloppyIsRepairedAndNoted() {
        Contract c = read("s.yaml", """
                swagger: '2.0'
                info: {title: ''}
                paths:
                  ships/{no}/x{part}:
                    get:
                      parameters: [{in: nowhere, name: a}, {in: path, name: other, type: string}]
                      responses: {default: {description: any, schema: {$ref: '#/definitions/Gone'}}}
                    post:
                      operationId: getShipsNoXPart
                      responses: {}
                """);
        Operation get = c.ports().get(0).operations().get(0);
        assertEquals(get.name(), "getShipsNoXPart");
        assertEquals(c.ports().get(0).operations().get(1).name(), "getShipsNoXPart#2");
        assertEquals(get.http().path(), "/ships/{no}/x{part}");
        assertEquals(rows(get.request().root()), "path 1\npath/no 1 string\npath/part 1 string");
        assertTrue(
                rows(get.answer().root()).startsWith("json 1 JSON"),
                rows(get.answer().root()));
        assertNull(c.ports().get(0).address());
        List<String> said = c.notes().stream().map(Problem::code).toList();
        for (String code : List.of("openapi.reference", "openapi.server", "openapi.parameter", "openapi.name")) {
            assertTrue(said.contains(code), code + " is not in " + said);
        }
        assertEquals(
                c.notes().stream()
                        .filter(n -> n.code().equals("openapi.name"))
                        .findFirst()
                        .orElseThrow()
                        .place()
                        .line(),
                8);
    }

    @DataProvider
    public Object[][] unread() {
        return new Object[][] {
            {"openapi: 4.0.0\npaths: {}\n", "xml."},
            {"{\"openapi\": \"3.0.0\", \"paths\": {\"/a\": ", "openapi.unreadable"},
            {"openapi: 3.1.0\npaths: [\n  - {a: b\n", "openapi.unreadable"},
            {"{\"openapi\": \"3.1.0\", \"paths\": " + "[".repeat(5_000), "openapi.unreadable"},
            {"{\"paths\": {}}", "openapi.version"},
        };
    }

    @Test(dataProvider = "unread")
    public void whatCannotBeReadIsRefused(String text, String code) {
        Refused e = expectThrows(Refused.class, () -> read("x.yaml", text));
        assertTrue(e.code().startsWith(code), e.code() + " " + e.getMessage());
    }

    /** Bombs: references in circles, schemas that hold themselves, aliases within aliases. */
    @Test(timeOut = 20_000)
    public void whatGoesInCirclesEnds() {
        Contract c = read("c.yaml", """
                openapi: 3.1.0
                info: {title: C}
                paths:
                  /a:
                    post:
                      requestBody: {$ref: '#/paths/~1a/post/requestBody'}
                      responses:
                        '200': {description: ok, content: {application/json: {schema: {$ref: '#/components/schemas/A'}}}}
                components:
                  schemas:
                    A: {$ref: '#/components/schemas/B'}
                    B: {allOf: [{$ref: '#/components/schemas/A'}, {type: object, properties: {a: {$ref:
                      '#/components/schemas/A'}, all: {type: array, items: {$ref: '#/components/schemas/A'}}}}]}
                """);
        Operation o = c.ports().get(0).operations().get(0);
        assertEquals(rows(o.answer().root()), """
                json 1 A
                json/@status 0..1 int
                json/a 0..1 A
                json/all 0..n A""");
        assertEquals(
                o.answer().json().check("answer", "{\"a\": 1}", 0).get(0).text(),
                "It cannot be checked: its schema is a part of itself.");
        StringBuilder bomb = new StringBuilder("openapi: 3.1.0\ninfo: {title: B}\na0: &a0 {x: y}\n");
        for (int i = 1; i < 30; i++) {
            bomb.append("a")
                    .append(i)
                    .append(": &a")
                    .append(i)
                    .append(" [*a")
                    .append(i - 1)
                    .append(", *a")
                    .append(i - 1)
                    .append("]\n");
        }
        read("bomb.yaml", bomb + "paths: {}\n");
    }

    /** A hostile pattern keeps nobody busy, and nothing outside is asked for. */
    @Test(timeOut = 20_000)
    public void aCheckNeitherFetchesNorTriesPatterns() {
        Contract c = read("p.yaml", """
                openapi: 3.1.0
                info: {title: P}
                paths:
                  /a:
                    get:
                      responses:
                        '200':
                          description: ok
                          content:
                            application/json:
                              schema:
                                type: object
                                $id: 'http://127.0.0.1:1/schema'
                                required: [a]
                                properties: {a: {type: string, pattern: '^(a+)+$'}, b: {$ref: 'http://127.0.0.1:1/x'},
                                  n: {type: [integer, 'null'], minimum: 3}}
                """);
        Operation o = c.ports().get(0).operations().get(0);
        List<Problem> found =
                o.answer().json().check("answer", "{\n\"a\": \"" + "a".repeat(40) + "!\",\n\"n\": 2,\n\"b\": {}}", 0);
        assertEquals(found.size(), 1, found.toString());
        assertTrue(found.get(0).text().startsWith("n "), found.get(0).text());
        assertEquals(found.get(0).place().line(), 3);
        assertTrue(c.notes().stream().anyMatch(n -> n.code().equals("openapi.reference")));
    }

    @Test
    public void aChangedSchemaIsAChangedContract() {
        Contract after = read(
                "tugs.yaml",
                THREE.replace("maxLength: 7", "maxLength: 5").replace("at: {type: string", "on: {type: string"));
        Comparison.Result r = Comparison.of(read("tugs.yaml", THREE), after);
        assertTrue(r.changes().stream().anyMatch(c -> "path/no".equals(c.path()) && c.isBreaking()), r.toString());
        assertTrue(r.changes().stream().anyMatch(c -> String.valueOf(c.path()).endsWith("at")), r.toString());
        Contract moved =
                read("tugs.yaml", THREE.replace("/tugs/{no}", "/boats/{no}").replace("    put:", "    patch:"));
        Comparison.Result way = Comparison.of(read("tugs.yaml", THREE), moved);
        assertTrue(
                way.changes().stream()
                        .anyMatch(c -> c.what().equals("method and path")
                                && c.isBreaking()
                                && "PATCH /boats/{no}".equals(c.after())),
                way.toString());
    }

    @Test
    public void wadlIsReadWithItsGrammars() {
        Contract c = read("r.wadl", """
                <application xmlns="http://wadl.dev.java.net/2009/02" xmlns:xs="http://www.w3.org/2001/XMLSchema"
                    xmlns:s="urn:s"><doc title="Berths"/>
                  <grammars><include href="s.xsd"/></grammars>
                  <resources base="http://h/api/">
                    <resource path="berths"><param name="lane" style="query" type="xs:int"/>
                      <resource path="{no}"><param name="no" style="template" type="xs:string"/>
                        <method id="hold" name="PUT">
                          <request><param name="X-By" style="header" required="true"/>
                            <representation mediaType="application/xml" element="s:Hold"/></request>
                          <response status="200"><representation mediaType="text/xml" element="s:Held"/></response>
                          <response status="404 410"><representation mediaType="text/plain"/></response>
                        </method>
                        <method name="GET"/>
                      </resource></resource></resources>
                </application>""", "s.xsd", """
                <xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" targetNamespace="urn:s"
                    elementFormDefault="qualified">
                  <xs:element name="Hold"><xs:complexType><xs:sequence><xs:element name="until" type="xs:date"/>
                  </xs:sequence></xs:complexType></xs:element>
                  <xs:element name="Held" type="xs:string"/>
                </xs:schema>""");
        assertEquals(c.name(), "Berths");
        assertEquals(c.notes(), List.of());
        assertEquals(c.ports().get(0).address(), "http://h/api");
        Operation hold = c.ports().get(0).operation("hold").orElseThrow();
        assertEquals(hold.http().method() + " " + hold.http().path(), "PUT /berths/{no}");
        assertEquals(rows(hold.request().root()), """
                path 1
                path/no 1 string
                query 0..1
                query/lane 0..1 int
                header 1
                header/X-By 1 string
                body 1
                body/Hold 1
                body/Hold/until 1 date""");
        assertEquals(
                hold.faults().stream().map(Operation.DeclaredFault::name).toList(), List.of("HTTP 404", "HTTP 410"));
        assertEquals(c.ports().get(0).operations().get(1).name(), "getBerthsNo");
        assertEquals(c.documents().size(), 2);
    }

    /** What a description names goes into requests: it must not become more than one header, or another request. */
    @Test(timeOut = 20_000)
    public void aHostileDescriptionAddsNothingToRequests() throws Exception {
        Contract c = read("h.json", """
                {"openapi": "3.1.0", "info": {"title": "H"}, "paths": {"/a b\\nX-One: 1\\n/é": {"post": {
                  "operationId": "o",
                  "parameters": [{"in": "cookie", "name": "c\\nX-Two: 2", "schema": {"type": "string"}}],
                  "requestBody": {"content": {"multipart/form-data": {"schema": {"type": "object", "properties": {
                    "f\\r\\nX-Three: 3": {"type": "string"}, "n": {"type": "number", "minimum": 1e400000000,
                      "multipleOf": 1e-400000000}}}}}},
                  "responses": {"200": {"description": "", "content": {
                    "application/json\\nX-Four: 4": {"schema": {"type": "string"}},
                    "application/json": {"schema": {"type": 5, "minimum": "x", "multipleOf": 1e-400000000}}}}}}}}}""");
        Operation o = c.ports().get(0).operations().get(0);
        Fill.Filled filled = new Fill.Filled(
                "",
                "<body><f_x000D__x000A_X-Three_x003A__x0020_3>v</f_x000D__x000A_X-Three_x003A__x0020_3></body>",
                List.of(),
                Map.of());
        HttpMessage m =
                HttpMessage.read(new HttpRequests(o).write(filled.body()).bytes());
        assertEquals(m.target(), "/a%20b%0AX-One:%201%0A/%C3%A9");
        assertEquals(m.headers().size(), 2, "Accept and Content-Type");
        assertEquals(m.headers().get(0)[1], "application/json");
        String body = new String(m.body(), StandardCharsets.UTF_8);
        assertTrue(body.contains("name=\"f%0D%0AX-Three: 3\""), body);
        assertThrows(NotWritable.class, () -> new HttpRequests(o)
                .write("<cookie><c_x000A_X-Two_x003A__x0020_2>v</c_x000A_X-Two_x003A__x0020_2></cookie>"));
        assertEquals(o.answer().json().check("answer", "1e400000000", 0).size() <= 1, true);
    }

    /** Texts made to keep a pattern busy: whoever looks at them is done at once. */
    @Test(timeOut = 20_000)
    public void noTextKeepsAPatternBusy() {
        for (String bomb : List.of(
                "x" + "\n".repeat(60_000) + "y",
                "x\n" + " ".repeat(60_000) + "y",
                "<application " + "wadl ".repeat(12_000),
                "<application ".repeat(5_000) + "http://wadl.dev.java.net/")) {
            expectThrows(Refused.class, () -> read("b.txt", bomb));
        }
        String names = String.join(
                "",
                java.util.stream.IntStream.range(0, 40)
                        .mapToObj(i -> "{v" + i + "}-")
                        .toList());
        Contract c = read(
                "v.yaml",
                "openapi: 3.1.0\ninfo: {title: V}\npaths:\n  /" + names
                        + "z:\n    get:\n      parameters: [{name: q, in: query, schema: {type: string, pattern: 'x'}}]\n");
        Operation o = c.ports().get(0).operations().get(0);
        expectThrows(Refused.class, () -> HttpReadBack.of(o, "GET /" + "-".repeat(400) + "y"));
        Shape q = o.request().root().segments().get("query").segments().get("q");
        assertTrue(q.scalar().problem(" ".repeat(400)).isPresent());
        assertTrue(q.scalar().problem("  \n x \n").isEmpty(), "a pattern is found anywhere");
    }

    /** Documents that would fill the memory: refused by their size, their number, or the parts of their tree. */
    @Test(timeOut = 60_000)
    public void aDescriptionHasASizeInAll() {
        String part = "{\"a\": \"" + "x".repeat(30_000_000) + "\"}";
        byte[] large = part.getBytes(StandardCharsets.UTF_8);
        String refs = String.join(
                ",",
                java.util.stream.IntStream.range(0, 9)
                        .mapToObj(i -> "\"s" + i + "\": {\"$ref\": \"d" + i + ".json#/a\"}")
                        .toList());
        String root = "{\"openapi\": \"3.1.0\", \"paths\": {}, \"components\": {\"schemas\": {" + refs + "}}}";
        Contract c = DescriptionReader.read(
                "r.json", new Documents(uri -> uri.equals("r.json") ? root.getBytes(StandardCharsets.UTF_8) : large));
        assertTrue(c.documents().stream().mapToLong(d -> d.bytes().length).sum() < 97L * 1024 * 1024);
        assertTrue(
                c.notes().stream().anyMatch(n -> n.text().contains("96 MB")),
                c.notes().toString());
        Refused many = expectThrows(
                Refused.class,
                () -> read("m.json", "{\"openapi\": \"3.1.0\", \"x\": [" + "1,".repeat(2_100_000) + "1]}"));
        assertEquals(many.code(), "openapi.unreadable");
        // A long name above many values is not repeated for each of them.
        Contract deep = read(
                "d.json",
                "{\"openapi\": \"3.1.0\", \"paths\": {\"/" + "x".repeat(40_000)
                        + "\": {\"get\": {\"responses\": {}, \"x-all\": [" + "1,".repeat(300_000) + "1]}}}}");
        assertEquals(deep.ports().get(0).operations().size(), 1);
    }

    /** A schema inside, in a document of another encoding and with a mark before it: places are those of its text. */
    @Test
    public void aGrammarInsideAWadlIsReadInWhateverEncoding() {
        String wadl = """
                <?xml version="1.0" encoding="UTF-16"?>
                <application xmlns="http://wadl.dev.java.net/2009/02" xmlns:s="urn:s"><doc title="Häfen"/>
                  <grammars><xs:schema xmlns:xs="http://www.w3.org/2001/XMLSchema" targetNamespace="urn:s">
                    <xs:element name="Größe" type="xs:int"/></xs:schema></grammars>
                  <resources base="http://h/"><resource path="a" type="#t"/></resources>
                  <resource_type id="t"><method name="GET"><response><representation mediaType="text/xml"
                    element="s:Größe"/></response></method></resource_type>
                </application>""";
        Contract c = DescriptionReader.read(
                "u.wadl", Documents.of(Map.of("u.wadl", wadl.getBytes(StandardCharsets.UTF_16))));
        assertEquals(c.name(), "Häfen");
        assertEquals(c.notes(), List.of());
        assertEquals(rows(c.ports().get(0).operations().get(0).answer().root()), "Größe 1 int\nGröße/@status 0..1 int");
    }
}
