package dasein.app.store;

import java.util.List;
import org.apache.ibatis.annotations.Delete;
import org.apache.ibatis.annotations.Insert;
import org.apache.ibatis.annotations.Mapper;
import org.apache.ibatis.annotations.Param;
import org.apache.ibatis.annotations.Select;

@Mapper
public interface SheetMapper {
    /** @param revisionId the state it was worked out for; @param first the plate's first frame, null without a plate */
    record Row(long shotId, long revisionId, Integer first, String lines) {}

    @Insert("insert into sheet (shot_id, revision_id, first, lines) values (#{shotId}, #{revisionId}, #{first}, "
            + "cast(#{lines} as jsonb)) on conflict (shot_id) do update set revision_id = excluded.revision_id, "
            + "first = excluded.first, lines = excluded.lines")
    void keep(Row row);

    @Select("select shot_id, revision_id, first, lines::text as lines from sheet")
    List<Row> all();

    @Delete("delete from sheet where shot_id in (select id from shot where show_id = #{showId})")
    void forget(@Param("showId") long showId);
}
