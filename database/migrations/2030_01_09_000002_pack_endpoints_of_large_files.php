<?php

declare(strict_types=1);

use Illuminate\Database\Migrations\Migration;
use Illuminate\Support\Facades\DB;

return new class extends Migration
{
    public function up(): void
    {
        // Endpoints of large files; what stands beside them stays where it is.
        DB::statement('alter table source_documents add endpoints longblob null');
        DB::statement('alter table descriptions add packed longblob null');
    }
};
