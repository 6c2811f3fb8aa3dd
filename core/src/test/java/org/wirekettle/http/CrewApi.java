package org.wirekettle.http;

import java.nio.charset.StandardCharsets;
import java.util.List;
import java.util.Map;
import org.wirekettle.contract.Contract;
import org.wirekettle.contract.DescriptionReader;
import org.wirekettle.contract.Documents;
import org.wirekettle.contract.Operation;
import org.wirekettle.expression.Expressions;
import org.wirekettle.expression.Scope;
import org.wirekettle.mapping.Fill;
import org.wirekettle.mapping.Mapping;
import org.wirekettle.mapping.Mapping.Rule;
import org.wirekettle.problem.Problem;
import org.wirekettle.record.Node;

/** A small service of plain HTTP operations, as tests use it. */
final class CrewApi {
    static final String TEXT = """
            openapi: 3.1.0
            info: {title: Crews, version: '1'}
            servers: [{url: 'http://127.0.0.1:9/v1/'}]
            paths:
              /crews/{id}/changes:
                parameters:
                  - {name: id, in: path, required: true, schema: {type: string}}
                post:
                  operationId: changeCrew
                  parameters:
                    - {name: dry, in: query, schema: {type: boolean}}
                    - {name: rank, in: query, schema: {type: array, items: {type: string}}}
                    - {name: port, in: query, explode: false, schema: {type: array, items: {type: string}}}
                    - {name: page, in: query, style: deepObject, explode: true, schema: {type: object, properties:
                        {from: {type: integer}, size: {type: integer}}}}
                    - {name: X-Agency, in: header, required: true, schema: {type: string, maxLength: 8}}
                    - {name: Authorization, in: header, schema: {type: string}}
                    - {name: lane, in: cookie, schema: {type: string}}
                  requestBody:
                    required: true
                    content:
                      application/json: {schema: {$ref: '#/components/schemas/Change'}}
                  responses:
                    '201':
                      description: done
                      headers: {Location: {schema: {type: string}}, X-Left: {schema: {type: integer}}}
                      content:
                        application/json: {schema: {type: array, items: {$ref: '#/components/schemas/Member'}}}
                    '409':
                      description: no
                      content:
                        application/problem+json: {schema: {$ref: '#/components/schemas/Problem'}}
                    5XX: {description: later}
              /notes:
                put:
                  requestBody:
                    content:
                      application/x-www-form-urlencoded:
                        schema: {type: object, required: [text], properties: {text: {type: string}, to: {type: array,
                          items: {type: string}}}}
                  responses: {'204': {description: kept}}
              /ships:
                post:
                  operationId: ship
                  requestBody:
                    content:
                      application/xml: {schema: {$ref: '#/components/schemas/Ship'}}
                  responses:
                    '200': {description: ok, content: {text/plain: {schema: {type: string}}}}
            components:
              schemas:
                Change:
                  type: object
                  required: [day, members, crew size, berth]
                  properties:
                    day: {type: string, format: date}
                    crew size: {type: integer, minimum: 1, maximum: 90}
                    dues: {type: number}
                    paid: {type: boolean}
                    note: {type: [string, 'null'], maxLength: 20}
                    id: {type: string, readOnly: true}
                    secret: {type: string, writeOnly: true}
                    members: {type: array, items: {$ref: '#/components/schemas/Member'}}
                    watches: {type: array, items: {type: array, items: {type: integer}}}
                    berth: {$ref: '#/components/schemas/Berth'}
                    extra: {}
                  additionalProperties: {type: string}
                Member:
                  type: object
                  required: [name, rank]
                  properties:
                    name: {type: string}
                    rank: {type: string, enum: [mate, cook, '2nd engineer']}
                    next: {$ref: '#/components/schemas/Member'}
                Berth:
                  oneOf: [{$ref: '#/components/schemas/Quay'}, {$ref: '#/components/schemas/Buoy'}]
                  discriminator: {propertyName: kind, mapping: {quay: '#/components/schemas/Quay'}}
                Quay: {type: object, required: [kind, no], properties: {kind: {type: string}, no: {type: integer}}}
                Buoy: {type: object, required: [kind, mark], properties: {kind: {type: string}, mark: {type: string}}}
                Problem: {type: object, properties: {title: {type: string}, detail: {type: string}}}
                Ship:
                  type: object
                  xml: {name: ship, namespace: 'urn:ships'}
                  properties:
                    imo: {type: string, xml: {attribute: true}}
                    name: {type: string, xml: {namespace: 'urn:ships'}}
                    tugs: {type: array, xml: {wrapped: true}, items: {type: string, xml: {name: tug}}}
            """;

    static final Expressions EXPRESSIONS = new Expressions();

    private CrewApi() {}

    static Contract contract() {
        return read("crew.yaml", TEXT);
    }

    static Contract read(String name, String text) {
        return DescriptionReader.read(name, Documents.of(Map.of(name, text.getBytes(StandardCharsets.UTF_8))));
    }

    static Operation operation(String name) {
        return contract().ports().get(0).operation(name).orElseThrow();
    }

    /** What rules make of an operation's request. */
    static String request(Operation o, Rule... rules) throws NotWritable {
        Fill fill = Fill.compile(new Mapping(List.of(rules)), o.request().root(), EXPRESSIONS);
        Fill.Filled filled = fill.run(Scope.of(new Node("", "record")));
        List<Problem> problems = Problem.oncePerRow(fill.problems(), filled.problems());
        if (!problems.isEmpty()) {
            throw new AssertionError(problems.toString());
        }
        return new String(new HttpRequests(o).write(filled.body()).bytes(), StandardCharsets.UTF_8);
    }
}
