package org.wirekettle.server.about;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

/** What is said about things, in the database. */
@Mapper
public interface AboutMapper {
    /** A thing's row. */
    class Row {
        public String kind;
        public String name;
        public String description;
        /** A JSON array. */
        public String labels;

        public String notes;
        public boolean marked;
        public String changedBy;
    }

    @Select("""
        SELECT kind, name, description, labels::text AS labels, notes, marked FROM about ORDER BY kind, name
        LIMIT #{limit}\
        """)
    List<Row> list(@Param("limit") int limit);

    @Insert("""
        INSERT INTO about (kind, name, description, labels, notes, marked, changed_by)
        VALUES (#{kind}, #{name}, #{description}, #{labels}::jsonb, #{notes}, #{marked}, #{changedBy})
        ON CONFLICT (kind, name) DO UPDATE SET description = excluded.description, labels = excluded.labels,
        notes = excluded.notes, marked = excluded.marked, changed_by = excluded.changed_by, changed_at = now()\
        """)
    void put(Row row);

    @Delete("DELETE FROM about WHERE kind = #{kind} AND name = #{name}")
    void remove(@Param("kind") String kind, @Param("name") String name);
}
