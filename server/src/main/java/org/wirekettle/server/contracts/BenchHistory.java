package org.wirekettle.server.contracts;

import java.time.OffsetDateTime;
import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Options;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** What was sent from the Bench, by operation. */
@Mapper
public interface BenchHistory {
    /** Exchanges kept for one operation. */
    int KEPT = 50;

    /** An exchange. */
    class Row {
        public long id;
        public String port;
        public String operation;
        public OffsetDateTime sentAt;
        public String account;
        public String url;
        public String outcome;
        public int status;
        public long micros;
        public String fault;
        public byte[] request;
        public byte[] answer;
        /** Names and values, as JSON. */
        public String requestHeaders;

        public String answerHeaders;
    }

    @Select("""
        SELECT id, port, operation, sent_at AS "sentAt", account, url, outcome, status, micros, fault
        FROM bench_exchange
        WHERE contract = #{contract} AND port = #{port} AND operation = #{operation} ORDER BY id DESC\
        """)
    List<Row> list(
            @Param("contract") String contract, @Param("port") String port, @Param("operation") String operation);

    @Select("""
        SELECT id, port, operation, sent_at AS "sentAt", account, url, outcome, status, micros, fault, request, answer,
        request_headers::text AS "requestHeaders", answer_headers::text AS "answerHeaders" FROM bench_exchange
        WHERE contract = #{contract} AND id = #{id}\
        """)
    Row get(@Param("contract") String contract, @Param("id") long id);

    /** @return the exchange's id */
    @Select("""
        INSERT INTO bench_exchange (contract, port, operation, account, url, outcome, status, micros, fault, request,
        answer, request_headers, answer_headers)
        VALUES (#{contract}, #{row.port}, #{row.operation}, #{row.account}, #{row.url}, #{row.outcome}, #{row.status},
        #{row.micros}, #{row.fault}, #{row.request}, #{row.answer},
        #{row.requestHeaders}::jsonb, #{row.answerHeaders}::jsonb)
        RETURNING id\
        """)
    @Options(flushCache = Options.FlushCachePolicy.TRUE)
    long keep(@Param("contract") String contract, @Param("row") Row row);

    @Delete("DELETE FROM bench_exchange WHERE sent_at < now() - #{days} * interval '1 day'")
    int deleteOlder(@Param("days") int days);

    @Delete("""
        DELETE FROM bench_exchange WHERE contract = #{contract} AND port = #{port} AND operation = #{operation}
        AND id NOT IN (
          SELECT id FROM bench_exchange WHERE contract = #{contract} AND port = #{port} AND operation = #{operation}
          ORDER BY id DESC LIMIT #{most})\
        """)
    void makeRoom(
            @Param("contract") String contract,
            @Param("port") String port,
            @Param("operation") String operation,
            @Param("most") int most);

    /** @return exchanges kept beyond the newest of their operation */
    @Delete("""
        DELETE FROM bench_exchange WHERE id IN (SELECT id FROM (SELECT id, row_number() OVER (PARTITION BY contract,
        port, operation ORDER BY id DESC) AS n FROM bench_exchange) x WHERE n > #{most})\
        """)
    int makeRoomEverywhere(@Param("most") int most);

    @Delete("DELETE FROM bench_exchange WHERE length(request) + length(answer) > #{bytes}")
    int deleteLarger(@Param("bytes") long bytes);

    /** What an administrator says of how much is kept; null for nothing said. */
    @Select("SELECT value::text FROM setting WHERE name = 'retention'")
    @Options(useCache = false)
    String limits();
}
